/** What is begun out of a drawer: for all boards, ways and hand controls, all promises kept. */
import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { linkOf } from '../../../../core/design/find'
import { itemsOf } from '../../../../core/design/items'
import { validateDesign } from '../../../../core/design/validate'
import { begin } from '../../../../core/start/begin'
import {
  drawerLoad,
  firstDrawer,
  isDrawer,
  loadNames,
  withBoard,
  type Drawer,
} from '../../../../core/start/drawer'
import { KIT_NAMES } from '../../../../core/start/kit-names'
import { fromKit } from '../../../../core/start/kits'
import { LOAD_IDS } from '../../../../core/start/loads'
import { judge, sketch } from '../../../../core/start/outlook'
import { HAND_IDS, startBoards, waysOn, type WayId } from '../../../../core/start/ways'

const drawer = (over: Partial<Drawer>): Drawer => ({ ...firstDrawer(), ...over })
const stops = (d: Parameters<typeof check>[0]) =>
  check(d)
    .findings.filter(f => f.severity === 'stop')
    .map(f => f.title)

describe('out of a drawer', () => {
  it('every shipped board that gets a program can be begun with, by at least one way', () => {
    expect(startBoards().map(b => b.id)).toEqual([
      'board-8bit-5v',
      'board-8bit-5v-small',
      'board-wifi-small',
      'board-wifi-full',
      'board-dual-radio',
      'board-single-core',
      'board-linux-header',
    ])
    for (const b of startBoards()) expect(waysOn(b.id).length).toBeGreaterThan(0)
  })

  // One load and all kinds of loads; each is a valid document that nothing stops.
  for (const { id: board } of startBoards())
    for (const way of waysOn(board))
      it(`${board} with ${way}: nothing stops it, by any hand control`, () => {
        for (const hand of HAND_IDS)
          for (const loads of [[drawerLoad('lamp')], LOAD_IDS.map(w => drawerLoad(w))]) {
            const { design, unmet } = begin('x', drawer({ board, hand, ways: [way], loads }))
            expect(validateDesign(design)).toMatchObject({ ok: true })
            expect(stops(design)).toEqual([])
            // What is on the board is on the panel, and what had no pin is told.
            const panel = design.surfaces.find(s => s.kind === 'panel')!
            expect(panel.kind === 'panel' && itemsOf(panel).length).toBeGreaterThanOrEqual(
              design.loads.length,
            )
            const missing = loads.length - design.loads.length
            expect(unmet.length).toBeGreaterThanOrEqual(missing)
            if (board === 'board-dual-radio') expect(unmet).toEqual([])
          }
      })

  for (const loads of [
    ['lamp', 'fan'],
    ['strike'],
    ['blind', 'heater'],
    ['dimmer', 'pump'],
  ] as const)
    it(`${loads.join(' and ')}: all promises are kept`, () => {
      const { design } = begin(
        'x',
        drawer({ loads: loads.map(w => drawerLoad(w)), ways: ['phone', 'browser'] }),
      )
      const { promises, stops: stopped } = judge(design)
      const { works, pins } = sketch(design)
      expect(promises.asked.length).toBeGreaterThanOrEqual(5)
      expect(promises.kept).toEqual(promises.asked)
      expect(stopped).toBe(0)
      expect(works.internet).toEqual(['Wall buttons', 'Phone', 'Browser'])
      expect(works.router).toEqual(['Wall buttons', 'Phone'])
      expect(pins.every(p => p.label !== '')).toBe(true)
    })

  it('what can hurt somebody stays off after a cut, and its commands are signed', () => {
    const { design } = begin('x', drawer({ loads: [drawerLoad('heater'), drawerLoad('lamp')] }))
    expect(design.loads.map(l => 'powerUp' in l.output && l.output.powerUp)).toEqual([
      'off',
      'last',
    ])
    expect(design.links.map(l => l.auth.kind)).toEqual(['challenge', 'challenge'])
    const plain = begin('x', drawer({ loads: [drawerLoad('lamp')] })).design
    expect(plain.links.map(l => l.auth.kind)).toEqual(['none', 'none'])
  })

  it('a small board is filled as far as its pins go, and what has no place is told by name', () => {
    const loads = Array.from({ length: 5 }, () => drawerLoad('lamp'))
    const { design, unmet } = begin(
      'x',
      drawer({ board: 'board-wifi-small', loads, ways: ['browser'] }),
    )
    expect(design.loads.length).toBeLessThan(5)
    expect(unmet.some(u => u.startsWith('Lamp 5'))).toBe(true)
    expect(validateDesign(design).ok).toBe(true)
  })

  it('what a browser kept is taken where this Nolvi knows all of it', () => {
    expect(isDrawer(firstDrawer())).toBe(true)
    expect(isDrawer(JSON.parse(JSON.stringify(firstDrawer())))).toBe(true)
    for (const odd of [
      null,
      {},
      'drawer',
      { ...firstDrawer(), board: 'board-of-tomorrow' },
      { ...firstDrawer(), loads: [] },
      { ...firstDrawer(), loads: [{ what: 'castle', name: '', dangers: [] }] },
      { ...firstDrawer(), loads: [null] },
      { ...firstDrawer(), hand: 'levers' },
      { ...firstDrawer(), ways: ['pigeon'] },
      { ...firstDrawer(), afterCut: 'maybe' },
    ])
      expect(isDrawer(odd), JSON.stringify(odd)).toBe(false)
  })

  it('names are each there once, whatever was typed', () => {
    const named = loadNames({
      loads: [
        drawerLoad('lamp'),
        drawerLoad('lamp'),
        drawerLoad('fan', ' Lamp '),
        drawerLoad('pump'),
      ],
    })
    expect(named).toEqual(['Lamp', 'Lamp 2', 'Lamp 3', 'Pump'])
    const long = 'A very long name that nobody would ever give to a lamp on a wall'
    const two = loadNames({ loads: [drawerLoad('lamp', long), drawerLoad('lamp', long)] })
    expect(new Set(two).size).toBe(2)
  })

  it('another board keeps the ways that it offers, and has one at least', () => {
    expect(withBoard(drawer({ ways: ['phone', 'browser'] }), 'board-wifi-full').ways).toEqual([
      'browser',
    ])
    expect(withBoard(drawer({ ways: ['browser'] }), 'board-8bit-5v').ways).toEqual(['computer'])
    const all: WayId[] = ['phone', 'browser']
    expect(withBoard(drawer({ ways: all }), 'board-dual-radio').ways).toEqual(all)
  })
})

describe('kits', () => {
  for (const { id, name } of KIT_NAMES.filter(k => k.id !== 'empty'))
    it(`${name}: an ordinary design that nothing stops, with all promises kept`, () => {
      const { design, unmet } = fromKit('kit', id)
      expect(validateDesign(design).ok).toBe(true)
      expect(unmet).toEqual([])
      const { promises, stops: stopped } = judge(design)
      expect(stopped).toBe(0)
      expect(promises.kept).toEqual(promises.asked)
    })

  it('two boards have their own loads, panels and pins', () => {
    const { design } = fromKit('kit', 'two-boards')
    expect(design.controllers).toHaveLength(2)
    expect(new Set(design.loads.map(l => l.controllerId)).size).toBe(2)
    const panels = design.surfaces.flatMap(s => (s.kind === 'panel' ? [s] : []))
    for (const p of panels)
      expect(
        p.keys.every(
          k =>
            design.loads.find(l => l.id === k.loadId)!.controllerId
            === linkOf(design, p.linkId).controllerId,
        ),
      ).toBe(true)
  })
  it('an unknown kit is named', () => {
    expect(() => fromKit('x', 'castle')).toThrow('castle')
  })
})
