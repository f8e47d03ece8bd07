import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { consumers, sumsOf, type Counted } from '../../../../core/electrical/of-design'
import { valueOf } from '../../../../core/electrical/sum'
import type { Edit } from '../../../../core/design/edits'
import type { Design } from '../../../../core/design/schema'
import { edited, fanDesign, glazeRoom } from '../../../fixtures/designs'

const coil: Edit = { type: 'setWiring', loadId: 'fan', patch: { driver: { kind: 'coil', volts: 5, ohms: 70, henries: 0.1, gainMin: 100, transistorMaxAmps: 0.6 }, load: { type: 'motor', volts: 12, amps: 1, mains: false }, contact: { ratedAmps: 10, inrushAmps: 30 }, run: { lengthMeters: 4, sectionMm2: 1 } } }
const ids = (design: Design) => sumsOf(design).map(s => s.id)
const broken = (design: Design) => check(design).findings.filter(f => f.code.startsWith('sum-')).map(f => `${f.severity} ${f.code}`)

describe('sums of a design', () => {
  it('are those that its parts call for', () => {
    expect(ids(fanDesign())).toEqual(['supply supply', 'board pin-load', 'control:fan-button pull-up', 'link:phone-link uart-clock'])
    expect(ids(edited(fanDesign(), coil))).toEqual(['supply supply', 'board pin-load', 'load:fan coil-driver', 'load:fan flyback', 'load:fan contact', 'load:fan voltage-drop', 'load:fan fuse', 'control:fan-button pull-up', 'link:phone-link uart-clock'])
    const mosfet = edited(fanDesign(), coil, { type: 'setWiring', loadId: 'fan', patch: { driver: { kind: 'mosfet', onOhms: 0.03, onAtGateVolts: 4.5, maxAmps: 10 } } }, { type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last' } })
    expect(ids(mosfet)).toEqual(['supply supply', 'board pin-load', 'load:fan mosfet', 'load:fan voltage-drop', 'load:fan fuse', 'load:fan wear', 'control:fan-button pull-up', 'link:phone-link uart-clock'])
  })
  it('take board and supply from the design', () => {
    const driver = sumsOf(edited(fanDesign(), coil)).find(s => s.kind === 'coil-driver')?.sum
    expect(valueOf(driver!, 'Rb')).toBe(560)
    const onRadio = sumsOf(edited(fanDesign(), { type: 'setBoard', board: 'board-dual-radio' }, coil)).find(s => s.kind === 'coil-driver')?.sum
    expect(valueOf(onRadio!, 'Rb')).toBe(360)
    expect(consumers(edited(fanDesign(), coil)).map(c => `${c.what} ${c.amps.toFixed(3)}`)).toEqual(['board 0.050', 'module of Phone link 0.040', 'coil of Fan 0.071'])
  })
  it('reckon the wear of memory from what the bench counted', () => {
    const last = edited(fanDesign(), { type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last' } })
    const wearOf = (counted?: Counted) => sumsOf(last, counted).find(s => s.kind === 'wear')!
    expect(wearOf().given[0]).toBe('50 changes a day assumed')
    // 10 in 10 minutes are 1,440 a day: 200,000 writes last 139 days.
    const busy = wearOf({ seconds: 600, moves: { fan: 10 } })
    expect(busy.given[0]).toContain('1,440 a day')
    expect(valueOf(busy.sum!, 'Y')).toBeCloseTo(0.3803, 3)
    expect(wearOf({ seconds: 5, moves: { fan: 3 } }).given[0]).toContain('assumed')
  })
  it('a mains load gets no low-voltage lead, and a caution that stays', () => {
    const design = glazeRoom()
    expect(ids(design)).not.toContain('load:booth-extractor voltage-drop')
    expect(check(design).findings.some(f => f.code === 'caution-mains' && f.loadId === 'booth-extractor')).toBe(true)
  })
})

describe('sums as findings', () => {
  const provoked: [string, Edit[], string][] = [
    ['a pin of 20 mA on a coil of 20 Ω', [coil, { type: 'setWiring', loadId: 'fan', patch: { driver: { kind: 'coil', volts: 5, ohms: 20, henries: 0.1, gainMin: 100, transistorMaxAmps: 0.6 } } }], 'stop sum-coil-driver'],
    ['a MOSFET for 10 V gates on 3.3 V', [{ type: 'setBoard', board: 'board-dual-radio' }, coil, { type: 'setWiring', loadId: 'fan', patch: { driver: { kind: 'mosfet', onOhms: 0.03, onAtGateVolts: 10, maxAmps: 10 } } }], 'stop sum-mosfet'],
    ['a motor of 3 A on a 10 A contact', [coil, { type: 'setWiring', loadId: 'fan', patch: { load: { type: 'motor', volts: 12, amps: 3, mains: false } } }], 'stop sum-contact'],
    ['30 m of 0.34 mm²', [coil, { type: 'setWiring', loadId: 'fan', patch: { run: { lengthMeters: 30, sectionMm2: 0.34 } } }], 'stop sum-voltage-drop'],
    ['a button 20 m away on the built-in pull-up', [{ type: 'setControl', controlId: 'fan-button', patch: { leadMeters: 20 } }], 'stop sum-pull-up'],
    ['a supply of 100 mA', [{ type: 'setSupply', patch: { amps: 0.1 } }], 'stop sum-supply'],
  ]
  it.each(provoked)('%s', (_, edits, expected) => {
    expect(broken(edited(fanDesign(), coil))).toEqual([])
    expect(broken(edited(fanDesign(), ...edits))).toContain(expected)
  })
  it.each(provoked.slice(3))('%s: the fix offered mends it', (_, edits, expected) => {
    const design = edited(fanDesign(), ...edits)
    const found = check(design).findings.find(f => `${f.severity} ${f.code}` === expected)
    expect(found?.fixes.length).toBe(1)
    expect(broken(edited(design, found!.fixes[0]!.edit))).not.toContain(expected)
  })
})
