import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { partOf, partOfLoad, parts, pathInWhole } from '../../../../core/design/part'
import { needs } from '../../../../core/design/pins'
import { prove } from '../../../../core/proof/prove'
import { Bench } from '../../../../core/bench/bench'
import { applyEdit } from '../../../../core/design/edits/edits'
import { edited, fanDesign, glazeRoom } from '../../../fixtures/designs'

/** A fan on one board; a lamp on a second, with a panel, a button and a sensor of its own. */
const twoBoards = () =>
  edited(
    fanDesign(),
    { type: 'addController', name: 'Shed board', board: 'board-wifi-full' },
    { type: 'addLoad', name: 'Shed lamp', controllerId: 'shed-board' },
    { type: 'addControl', surfaceId: 'wall', loadId: 'shed-lamp', kind: 'push' },
    { type: 'addPanel', name: 'Browser', over: 'http', controllerId: 'shed-board' },
    {
      type: 'addMessage',
      linkId: 'browser-link',
      loadId: 'shed-lamp',
      codes: { on: '/lamp/on', off: '/lamp/off' },
    },
    { type: 'addSensor', kind: 'contact', name: 'Shed door', controllerId: 'shed-board' },
  )

describe('a design of two controllers', () => {
  it('falls into a part for each, with nothing lost and nothing shared but the wall', () => {
    const design = twoBoards()
    const [fan, shed] = parts(design).map(p => p.part) as [typeof design, typeof design]
    expect(
      [fan, shed].map(p => [p.loads, p.links, p.sensors].map(list => list.map(x => x.id))),
    ).toEqual([
      [['fan'], ['phone-link'], []],
      [['shed-lamp'], ['browser-link'], ['shed-door']],
    ])
    expect([fan, shed].map(p => p.surfaces.map(s => s.id))).toEqual([
      ['wall', 'phone'],
      ['wall', 'browser'],
    ])
    expect([...needs(fan), ...needs(shed)].length).toBe(
      new Set([...needs(fan), ...needs(shed)].map(n => n.id)).size,
    )
  })
  it('a design of one is its own part', () => {
    const design = glazeRoom()
    expect(partOf(design, 'board')).toBe(design)
    expect(() => partOf(design, 'nowhere')).toThrow('no controller "nowhere"')
  })
  it('pins are counted board by board: both loads may be on the same number', () => {
    const pinsOf = (id: string) => needs(partOf(twoBoards(), id)).map(n => n.chip)
    const shared = [12, 13, 14, 15, 16, 17, 18, 19].find(
      chip => !pinsOf('board').includes(chip) && !pinsOf('shed-board').includes(chip),
    )!
    const design = edited(
      twoBoards(),
      { type: 'setOutput', loadId: 'fan', patch: { pin: shared } },
      { type: 'setOutput', loadId: 'shed-lamp', patch: { pin: shared } },
    )
    expect(check(design).findings.map(f => f.code)).not.toContain('pin-twice')
  })
  it('findings of a part name their place in the whole document', () => {
    const design = edited(twoBoards(), {
      type: 'setOutput',
      loadId: 'shed-lamp',
      patch: { pin: 99 },
    })
    const found = check(design).findings.find(f => f.code === 'pin-unknown')
    expect(found).toMatchObject({ path: '/loads/1/output/pin', loadId: 'shed-lamp' })
    expect(check(edited(design, found!.fixes[0]!.edit)).findings.map(f => f.code)).not.toContain(
      'pin-unknown',
    )
    const part = partOf(design, 'shed-board')
    expect([
      pathInWhole(design, part, '/surfaces/0/controls/0/pin'),
      pathInWhole(design, part, '/links/0'),
      pathInWhole(design, part, '/supply'),
    ]).toEqual(['/surfaces/0/controls/1/pin', '/links/1', '/supply'])
  })
  it('each load is proved and played on its own board', () => {
    const design = twoBoards()
    expect(prove(design, 'shed-lamp').surfaces.map(s => s.surfaceId)).toEqual(['browser'])
    const bench = new Bench(partOfLoad(design, 'shed-lamp'))
    bench.act({ do: 'key', surfaceId: 'browser', loadId: 'shed-lamp', want: 'on' })
    bench.advance(2000)
    expect(bench.value('shed-lamp')).toBe('on')
  })
  it('refuses a message for a load of another board, and to take a board away that still switches something', () => {
    const refused = (edit: Parameters<typeof applyEdit>[1]) => {
      const applied = applyEdit(twoBoards(), edit)
      return applied.ok ? '' : applied.problems[0]?.message
    }
    expect(
      refused({
        type: 'addMessage',
        linkId: 'phone-link',
        loadId: 'shed-lamp',
        codes: { on: 'S', off: 's' },
      }),
    ).toContain('is switched by controller "shed-board"')
    expect(refused({ type: 'removeController', controllerId: 'shed-board' })).toContain(
      'Shed board still has Shed lamp',
    )
    expect(
      refused({
        type: 'setControl',
        controlId: 'fan-button',
        patch: { gestures: [{ on: 'double', loadId: 'shed-lamp', asks: 'toggle' }] },
      }),
    ).toContain('is switched by controller')
  })
})
