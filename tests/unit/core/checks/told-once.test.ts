import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { counted, toldOnce } from '../../../../core/checks/told-once'
import { groupsOf } from '../../../../core/proof/groups'
import { proveAll } from '../../../../core/proof/prove'
import { edited, fanDesign, glazeRoom } from '../../../fixtures/designs'

describe('one cause told once', () => {
  it('of the glaze room: the phone that is not told, with the loads it concerns; another cause stays apart', () => {
    const told = toldOnce(check(glazeRoom()).findings)
      .filter(f => f.code === 'surface-stale')
      .map(f => f.title)
    expect(told).toEqual(
      ['Booth extractor', 'Wheel lights and Drying cupboard fan', 'Rinse pump'].map(
        names => `Apron phone can show the wrong state of ${names} for good`,
      ),
    )
  })
  it('counted as it is told', () => {
    const { findings } = check(glazeRoom())
    expect(findings.filter(f => f.severity === 'stop')).toHaveLength(6)
    expect(counted(toldOnce(findings)).stop).toBe(5)
    expect(counted([])).toEqual({ stop: 0, warn: 0, note: 0 })
  })
  it('its fix is done for all of them at once', () => {
    const three = ['Lamp', 'Pump'].reduce(
      (d, name) =>
        edited(
          d,
          { type: 'addLoad', name },
          {
            type: 'addMessage',
            linkId: 'phone-link',
            loadId: name.toLowerCase(),
            codes: { on: name[0]!, off: name[0]!.toLowerCase() },
          },
        ),
      fanDesign(),
    )
    const untold = edited(
      three,
      ...three.loads.map(l => ({
        type: 'setReport' as const,
        linkId: 'phone-link',
        loadId: l.id,
        change: false,
      })),
      { type: 'addControl', surfaceId: 'wall', loadId: 'lamp', kind: 'push' },
      { type: 'addControl', surfaceId: 'wall', loadId: 'pump', kind: 'push' },
    )
    const [told, ...others] = toldOnce(check(untold).findings).filter(
      f => f.code === 'surface-stale',
    )
    expect([others, told!.title]).toEqual([
      [],
      'Phone can show the wrong state of Fan, Lamp and Pump for good',
    ])
    expect(
      check(edited(untold, told!.fixes[0]!.edit)).findings.filter(f =>
        f.code.startsWith('surface-'),
      ),
    ).toEqual([])
  })
  it('what has no cause of its kind is left as it is', () => {
    const findings = check(glazeRoom()).findings.filter(f => f.cause === null)
    expect(toldOnce(findings)).toEqual(findings)
  })
  it('breaks that differ only in who pressed what are one cause, with all its loads', () => {
    const design = glazeRoom()
    const groups = groupsOf(
      design.loads.flatMap(l => proveAll(design, l.id).filter(v => v.promise === 'P1')),
    )
    const keys = groups.map(g => `${g.part.surfaceId} ${g.story.what} ${g.part.reason}`)
    expect(groups.length).toBeLessThanOrEqual(2)
    expect(new Set(groups.flatMap(g => g.loadIds)).size).toBe(4)
    expect(keys.length).toBe(groups.length)
  })
})
