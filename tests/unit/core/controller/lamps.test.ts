import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import type { Edit } from '../../../../core/design/edits/edits'
import type { Design } from '../../../../core/design/schema'
import { spokenValues } from '../../../../core/design/values'
import { canProgram, programmedFront } from '../../../../core/sides/program/can-program'
import { lampsOnWire } from '../../../../core/sides/program/front'
import { programLacks } from '../../../../core/sides/program/lacks'
import { kindEdit, outputEdit } from '../../../../core/messages/kinds'
import { edited, fanDesign, twoPanelDesign } from '../../../fixtures/designs'

const LAMP = (linkId: string): Edit => ({ type: 'addLamp', name: 'Sign', shows: 'link', linkId })
const lit = (bench: Bench) => bench.trace.lamps['sign']?.at(-1)?.level

describe('a lamp on the bench', () => {
  it('of a link that several share is lit while anybody is there', () => {
    const design = edited(
      twoPanelDesign(),
      { type: 'addPanel', name: 'Kitchen', over: 'http', onLink: 'browser-link' },
      LAMP('browser-link'),
    )
    const bench = new Bench(design)
    const [first, second] = bench.design.links.filter(l => l.kind === 'http').map(l => l.id)
    bench.advance(1000)
    expect(lit(bench)).toBe(1)
    bench.act({ do: 'linkDown', linkId: first! })
    bench.advance(2000)
    expect(lit(bench)).toBe(1)
    bench.act({ do: 'linkDown', linkId: second! })
    bench.advance(3000)
    expect(lit(bench)).toBe(0)
  })
  it('goes dark with the power, and the network lamp follows the router', () => {
    const design = edited(
      twoPanelDesign(),
      { type: 'setLink', linkId: 'browser-link', patch: { network: 'router' } },
      { type: 'addLamp', name: 'Sign', shows: 'network' },
    )
    const bench = new Bench(design)
    bench.advance(100)
    expect(lit(bench)).toBe(1)
    bench.act({ do: 'routerDown' })
    bench.advance(200)
    expect(lit(bench)).toBe(0)
    bench.act({ do: 'routerUp' })
    bench.advance(30_000)
    expect(lit(bench)).toBe(1)
    bench.act({ do: 'powerOff' })
    bench.advance(31_000)
    expect(lit(bench)).toBe(null)
    bench.act({ do: 'powerOn' })
    bench.advance(90_000)
    expect(lit(bench)).toBe(1)
  })
})

describe('a program for the 8-bit class', () => {
  const changed = (kind: 'choice' | 'opposed', patch: object): Design => {
    const design = edited(fanDesign(), kindEdit(fanDesign(), 'fan', kind))
    return Object.keys(patch).length ? edited(design, outputEdit(design, 'fan', patch)) : design
  }
  it.each([
    ['a choice', () => changed('choice', {})],
    ['coils', () => changed('opposed', { drive: 'coils' })],
  ] as const)('does %s', (_, make) => {
    expect(canProgram(make())).toBe(true)
    expect(programLacks(make())).toEqual([])
  })
  it('behind a board in front is told what lamps of the network show, and knows the others', () => {
    const design = edited(
      fanDesign(),
      { type: 'addPanel', name: 'Office', over: 'http' },
      { type: 'setFront', front: {} },
      { type: 'addLamp', name: 'Office on', shows: 'link', linkId: 'office-link' },
      { type: 'addLamp', name: 'In the net', shows: 'network' },
      { type: 'addLamp', name: 'Phone on', shows: 'link', linkId: fanDesign().links[0]!.id },
      { type: 'addLamp', name: 'Waits', shows: 'waiting' },
    )
    expect(programLacks(design)).toEqual([])
    const ahead = programmedFront(design)!
    expect(programLacks(ahead)).toEqual([])
    const told = (part: Design) => lampsOnWire(part).map(({ lamp, nth }) => [lamp.id, nth])
    expect(told(design)).toEqual([
      ['office-on', 0],
      ['in-the-net', 1],
    ])
    expect(told(ahead)).toEqual(told(design))
  })
  it('behind a board in front adopts levels there; of a knob that is imitated it says that it does not', () => {
    const kinds = ['level', 'choice', 'follower'] as const
    const withFront = (kind: (typeof kinds)[number]) => {
      const design = edited(fanDesign(), kindEdit(fanDesign(), 'fan', kind))
      const values = spokenValues(design.loads[0]!.output)
      return edited(
        design,
        { type: 'addPanel', name: 'Office', over: 'udp' },
        { type: 'setLink', linkId: 'office-link', patch: { restartMark: 'started' } },
        {
          type: 'addMessage',
          linkId: 'office-link',
          loadId: 'fan',
          codes: Object.fromEntries(values.map(v => [v, `fan ${v}`])),
        },
        { type: 'setFront', front: {} },
      )
    }
    expect(kinds.map(kind => programLacks(withFront(kind)).map(l => l.words))).toEqual([
      [],
      [],
      ['where Fan stands for a sender on Office link that has just started'],
    ])
  })
  it('reaches the pins of an expander', () => {
    const design = edited(
      fanDesign(),
      { type: 'addExpander', name: 'More', kind: 'shift' },
      { type: 'setPins', pins: { 'load:fan': 100 } },
    )
    expect(canProgram(design)).toBe(true)
    expect(programLacks(design)).toEqual([])
  })
})
