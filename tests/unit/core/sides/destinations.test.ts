import { describe, expect, it } from 'vitest'
import { destinations } from '../../../../core/sides/destinations'
import { buildFiles } from '../../../../core/sides/files'
import type { Design } from '../../../../core/design/schema'
import { glazeRoom, kilnCorridor, showroom, starter } from '../../../fixtures/designs'
import { boxedOver } from '../../../fixtures/boxed'

const of = (design: Design) => destinations(design, buildFiles(design))
const named = (design: Design, name: string) => {
  const found = of(design).find(d => d.name === name)
  if (!found)
    throw new Error(
      `nothing goes to ${name}: ${of(design)
        .map(d => d.name)
        .join(', ')}`,
    )
  return found
}

describe.each([
  ['starter', starter],
  ['glaze room', glazeRoom],
  ['kiln corridor', kilnCorridor],
  ['showroom', showroom],
  ['a box by a wire', () => boxedOver('wire', 'board-8bit-5v')],
] as const)('%s', (_, design) => {
  it('has each file in one place, and no place without a file', () => {
    const files = buildFiles(design())
    const places = destinations(design(), files)
    const all = places.flatMap(p => p.files.map(f => f.name))
    expect(all.toSorted()).toEqual(
      files
        .filter(f => !f.within)
        .map(f => f.name)
        .toSorted(),
    )
    expect(places.every(p => p.files.length > 0)).toBe(true)
    expect(new Set(places.map(p => p.id)).size).toBe(places.length)
  })
})

describe('what has to be done', () => {
  it('on a board: mains away first, then what disturbs the upload, then what to look at', () => {
    const { steps } = named(glazeRoom(), 'Glaze room board')
    expect(steps[0]).toMatch(/^Take mains away/)
    const [unplugged, after] = [/^Unplug .* from D0/, /^After the start /].map(p =>
      steps.findIndex(s => p.test(s)),
    ) as [number, number]
    expect(unplugged).toBeGreaterThan(0)
    expect(after).toBeGreaterThan(unplugged)
  })
  it('on a board in front: by itself, with the folder that is for it', () => {
    const design = glazeRoom()
    const front = named(design, design.front?.name ?? '')
    expect(front.ahead).toBe(true)
    expect(front.files.map(f => f.name)).toEqual(['glaze-room-front.ino'])
    expect(front.steps.join()).toContain('Pull the wire between Glaze room board')
    const main = named(design, 'Glaze room board')
    expect(main.files.some(f => f.name === 'glaze-room-front.ino')).toBe(false)
    expect(main.steps.join()).not.toContain(`Then ${design.front?.name}`)
  })
  it('with a page that a board serves: its address, or the file', () => {
    const design = kilnCorridor()
    const panel = design.surfaces.find(s => s.kind === 'panel' && s.name === 'Office window')
    const link = design.links.find(l => panel && 'linkId' in panel && l.id === panel.linkId)
    const { steps, reach } = named(design, 'Office window')
    expect(steps[0]).toContain(
      `open ${link?.kind === 'http' ? link.address : ''}/panel/${panel?.id}`,
    )
    expect(steps[1]).toContain(`Or take panel-${panel?.id}.html`)
    expect(reach.some(r => r.startsWith('page from a secure site: does not work'))).toBe(true)
  })
  it('with a page over Bluetooth: the file alone', () => {
    const { steps } = named(starter(), starter().surfaces.find(s => s.kind === 'panel')?.name ?? '')
    expect(steps.join()).not.toContain('It comes with the program')
    expect(steps[0]).toMatch(/^Take panel-/)
  })
})
