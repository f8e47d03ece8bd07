import { describe, expect, it } from 'vitest'
import { parts } from '../../../../core/design/part'
import type { Design } from '../../../../core/design/schema'
import { outageOf, outagesOf, outageTable, survives } from '../../../../core/proof/outages'
import { deadOutages, tried } from '../../../../core/proof/outages-tried'
import { runScript } from '../../../../core/bench/bench'
import {
  edited,
  glazeRoom,
  kilnCorridor,
  showroom,
  starter,
  twoPanelDesign,
} from '../../../fixtures/designs'

const table = (design: Design) =>
  Object.fromEntries(
    outageTable(design).map(r => [r.outages[0]?.id, r.cells.map(c => `${c.works}/${c.loads}`)]),
  )

describe('outages', () => {
  it('of the glaze room, worked out by hand', () => {
    expect(table(glazeRoom())).toEqual({
      internet: ['3/3', '4/4', '3/3'],
      router: ['3/3', '4/4', '0/3'],
      phone: ['3/3', '0/4', '3/3'],
      module: ['3/3', '0/4', '3/3'],
      front: ['3/3', '4/4', '0/3'],
      restart: ['0/3', '0/4', '0/3'],
      power: ['0/3', '0/4', '0/3'],
    })
    expect(outagesOf(glazeRoom()).map(o => o.id)).toEqual([
      'none',
      'internet',
      'router',
      'phone',
      'module',
      'front',
      'restart',
      'power',
    ])
  })
  it.each([
    ['glaze room', glazeRoom()],
    ['corridor', kilnCorridor()],
    ['showroom', showroom()],
    ['starter', starter()],
  ])('of the %s are found the same by trying each on the bench, two at once too', (_, design) => {
    for (const { part } of parts(design)) {
      expect(
        outageTable(part, {
          doubles: true,
          works: (s, loadId, outages) => tried(part, s, loadId, outages).works,
        }),
      ).toEqual(outageTable(part, { doubles: true }))
    }
  })
  it('two at once take away what either takes', () => {
    const rows = outageTable(glazeRoom(), { doubles: true })
    expect(
      rows.find(r => r.name === 'router down and phone away')?.cells.map(c => c.works),
    ).toEqual([3, 0, 0])
    // What nothing can bear is not asked for twice, nor what takes nothing away.
    expect(
      rows.some(r => r.outages.length > 1 && r.outages.some(o => !o.bears || !o.faults.length)),
    ).toBe(false)
  })
  it('an own access point does not need the router', () => {
    const own = edited(twoPanelDesign(), {
      type: 'setLink',
      linkId: 'browser-link',
      patch: { network: 'own' },
    })
    expect(survives(own, own.surfaces[2]!, outageOf(own, 'router'))).toBe(true)
    expect(
      survives(
        twoPanelDesign(),
        twoPanelDesign().surfaces[2]!,
        outageOf(twoPanelDesign(), 'router'),
      ),
    ).toBe(false)
  })
  it('a box that is out leaves the others', () => {
    const [board] = parts(showroom())
    const row = outageTable(board!.part).find(r => r.outages[0]?.id === 'box-counter-knob')
    expect(row?.cells.find(c => c.surfaceId === 'counter-knob')?.works).toBe(0)
    expect(row?.cells.find(c => c.surfaceId === 'till-tablet')?.works).toBeGreaterThan(0)
  })
  it('where nothing works any more the story says so, and nothing moves on the bench', () => {
    const dead = deadOutages(glazeRoom(), 'rinse-pump')
    expect(dead.map(d => d.outage.id)).toEqual(['phone', 'module'])
    for (const { story } of dead) {
      expect(story.replayed).toBe(true)
      expect(runScript(glazeRoom(), story.script).trace.moves['rinse-pump'] ?? 0).toBe(0)
    }
    expect(deadOutages(glazeRoom(), 'wheel-lights')).toEqual([])
  })
})
