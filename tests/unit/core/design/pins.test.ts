import { describe, expect, it } from 'vitest'
import {
  bestPins,
  boardOf,
  freePin,
  needs,
  serialPins,
  fittingBoard,
} from '../../../../core/design/pins'
import { SHIPPED } from '../../../../core/boards/boards'
import { edited, fanDesign, glazeRoom } from '../../../fixtures/designs'

describe('needs', () => {
  it('of the glaze room: loads, hand controls, the serial port, its connected line, the wire to the board in front', () => {
    expect(needs(glazeRoom()).map(n => `${n.id} ${n.chip}${n.fixed ? ' fixed' : ''}`)).toEqual([
      'load:booth-extractor 5',
      'load:wheel-lights 6',
      'load:cupboard-fan 7',
      'load:rinse-pump 8',
      'control:extractor-button 2',
      'control:lights-button 3',
      'control:fan-switch 4',
      'receive:apron-link 0 fixed',
      'send:apron-link 1 fixed',
      'status:apron-link 9',
      'front:receive 11',
      'front:send 10',
    ])
  })
  it('two hand surfaces are told apart in words', () => {
    const two = edited(glazeRoom(), { type: 'addHandSurface', name: 'Door' })
    expect(needs(two).find(n => n.controlId === 'fan-switch')?.what).toBe(
      'Drying cupboard fan, switch (Wall controls)',
    )
  })
  it('a serial port apart from uploads is taken where there is one', () => {
    const port = (id: string) => serialPins(SHIPPED.find(b => b.id === id)!)
    expect(port('board-8bit-5v')).toEqual({ receive: 0, send: 1 })
    expect(port('board-dual-radio')).toEqual({ receive: 16, send: 17 })
  })
})

describe('best pins', () => {
  it('of one need leave all others where they are', () => {
    const before = needs(glazeRoom())
    const { assigned } = bestPins(glazeRoom(), new Set(['load:rinse-pump']))
    for (const a of assigned)
      if (a.needId !== 'load:rinse-pump')
        expect(a.chip).toBe(before.find(n => n.id === a.needId)?.chip)
  })
  it('a kept pin that the new board does not have is chosen anew, not forgotten', () => {
    const moved = edited(
      glazeRoom(),
      { type: 'setPins', pins: { 'load:rinse-pump': 19 } },
      { type: 'keepPin', needId: 'load:rinse-pump', kept: true },
      { type: 'setBoard', board: 'board-linux-header' },
    )
    expect(bestPins(moved).assigned.find(a => a.needId === 'load:rinse-pump')?.chip).toBe(19)
    const gone = edited(moved, { type: 'setBoard', board: 'board-wifi-full' })
    const { assigned, unmet } = bestPins(gone)
    expect([...assigned, ...unmet].map(a => a.needId).toSorted()).toEqual(
      needs(gone)
        .map(n => n.id)
        .toSorted(),
    )
    expect(assigned.find(a => a.needId === 'load:rinse-pump')?.chip).not.toBe(19)
  })
  it('a free pin is free, and without hazards while there are such', () => {
    const chip = freePin(glazeRoom(), { as: 'output', activeLevel: 'low' })!
    expect(needs(glazeRoom()).map(n => n.chip)).not.toContain(chip)
    expect(boardOf(glazeRoom()).pins.find(p => p.chip === chip)?.hazards).toEqual([])
  })
})

describe('a board that takes all', () => {
  it('has a pin for every need, and no shipped one does it at less cost', () => {
    const on = (board: string) => {
      const moved = { ...glazeRoom(), controllers: [{ ...glazeRoom().controllers[0]!, board }] }
      const found = bestPins(moved)
      return found.unmet.length || needs(moved).some(n => n.fixed && n.chip < 0)
        ? Infinity
        : found.cost
    }
    const best = fittingBoard(glazeRoom())!
    expect(Number.isFinite(on(best.id))).toBe(true)
    expect(on(best.id)).toBe(Math.min(...SHIPPED.map(b => on(b.id))))
  })
  it('is none for more than any has', () => {
    expect(
      fittingBoard({
        ...fanDesign(),
        loads: Array.from({ length: 40 }, (_, i) => ({ ...fanDesign().loads[0]!, id: `l${i}` })),
      }),
    ).toBeUndefined()
  })
})
