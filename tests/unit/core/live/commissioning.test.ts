/**
 * Commissioning runs against a board in memory: all that can be heard ticks itself, a made-up
 * person looks at the loads, and what is disturbed is named.
 */
import { describe, expect, it } from 'vitest'
import { fingerprint } from '../../../../core/design/fingerprint'
import type { Design } from '../../../../core/design/schema'
import { restOf } from '../../../../core/design/values'
import type { Result } from '../../../../core/live/commissioning/results'
import { CommissioningRun } from '../../../../core/live/commissioning/run'
import { stepsOf, type Step } from '../../../../core/live/commissioning/steps'
import {
  DIALECTS,
  edited,
  glazeRoom,
  kilnCorridor,
  showroom,
  speaking,
} from '../../../fixtures/designs'
import { LiveTable } from '../../../fixtures/live'

/** Four loads, a phone and a browser that are told of everything; the board says who it is. */
function room(): Design {
  const plain = speaking(glazeRoom(), { ...DIALECTS.lines!, template: '{load} {value}' } as never)
  const pumps = plain.links[1]!.messages.some(m => m.loadId === 'rinse-pump')
  return edited(
    plain,
    { type: 'setLink', linkId: 'apron-link', patch: { helloCode: 'hello' } } as never,
    { type: 'setLink', linkId: 'office-link', patch: { helloRoute: '/hello' } } as never,
    ...(pumps
      ? []
      : [
          {
            type: 'addMessage' as const,
            linkId: 'office-link',
            loadId: 'rinse-pump',
            codes: { on: '/pump/on', off: '/pump/off' },
          },
        ]),
    ...plain.links.flatMap(l =>
      plain.loads.map(({ id }) => ({
        type: 'setReport' as const,
        linkId: l.id,
        loadId: id,
        ack: true,
        change: true,
      })),
    ),
  )
}

interface Person {
  /** Which load is seen to move where one is switched; its own. */
  sees?: (loadId: string) => string
  /** Whether what is seen is turned round. */
  inverted?: (loadId: string) => boolean
  hands?: boolean
}

/** Goes through all steps, as a person would with the board of the table. */
function gone(table: LiveTable, person: Person = {}, prints = {}): Map<string, Result> {
  const { design, twin } = table
  const steps = stepsOf(design)
  const results = new Map<string, Result>()
  const links = () => [...table.links.values()]
  const run = new CommissioningRun(design, steps, results, {
    links,
    press: (linkId, loadId, want) => table.link(linkId).press(loadId, want, table.now),
    hello: linkId => void table.links.get(linkId)?.askHello(table.now),
    ask: linkId => table.links.get(linkId)?.ask(table.now),
    prints: () => prints,
    date: () => '2026-11-30T10:00:00.000Z',
  })
  const pass = (ms: number) => {
    const end = table.now + ms
    while (table.now < end && run.current) {
      table.run(20)
      run.look(table.now)
    }
  }
  for (let step = run.next(); step && !results.has(step.id); step = run.next(step.id)) {
    run.begin(step.id, table.now)
    if (!run.current) continue
    run.ready(table.now)
    acts(table, step, () => run.look(table.now))
    pass(6000)
    if (run.current && run.question !== '') answers(table, run, step, person)
    pass(8000)
    if (run.current) run.put('left out')
  }
  expect(twin.running).toBe(true)
  return results
}

/** What a person does with their hands; between one thing and the next it is looked. */
function acts(table: LiveTable, step: Step, look: () => void): void {
  const [what, id = ''] = step.id.split(' ')
  if (what === 'hand') table.press(id)
  if (what === 'restart') {
    table.run(200).cut()
    look()
    table.run(5000).boot()
  }
  if (step.id === 'failure router' && table.links.has('office-link')) {
    table.lose('office-link')
    look()
    table.run(3000).connect('office-link')
  }
}

function answers(table: LiveTable, run: CommissioningRun, step: Step, person: Person): void {
  const { watch } = step
  if (!watch) return void run.answered('yes', null, table.now)
  const seen = person.sees?.(watch.loadId) ?? watch.loadId
  const { output } = table.design.loads.find(l => l.id === watch.loadId)!
  const isOn = (id: string) => table.twin.value(id) !== restOf(output)
  const wanted = watch.value !== restOf(output)
  if (seen !== watch.loadId) return void run.answered('another', seen, table.now)
  const is = person.inverted?.(watch.loadId) ? !isOn(watch.loadId) : isOn(watch.loadId)
  if (is === wanted) return void run.answered('yes', null, table.now)
  const other = table.design.loads.find(l => l.id !== watch.loadId && isOn(l.id))
  if (person.inverted?.(watch.loadId)) run.answered('opposite', null, table.now)
  else if (wanted && other) run.answered('another', other.id, table.now)
  else run.answered('no', null, table.now)
}
const states = (results: Map<string, Result>) => [
  ...new Set([...results.values()].map(r => r.state)),
]
const causes = (results: Map<string, Result>) =>
  [...results.values()].filter(r => r.state === 'differs').map(r => `${r.stepId}: ${r.cause}`)

describe('a run through a design', () => {
  it('steps are of the design, each once, in the order of their chapters', () => {
    for (const design of [glazeRoom(), kilnCorridor(), showroom(), room()]) {
      const steps = stepsOf(design)
      const ids = steps.map(s => s.id)
      expect(ids.filter((id, i) => ids.indexOf(id) !== i)).toEqual([])
      expect(steps.length).toBeGreaterThan(design.loads.length * 2)
    }
  })

  it('of a board as designed passes everything; what is heard needs nobody', () => {
    const table = new LiveTable(room()).connect()
    const results = gone(table)
    expect(causes(results)).toEqual([])
    expect(states(results)).toEqual(['passed'])
    expect(results.size).toBe(stepsOf(table.design).length)
    // Over the second link nothing is asked: all of it is heard, with its time.
    const heard = results.get('load booth-extractor office-link on')!
    expect(heard.answer).toBeNull()
    expect(heard.heard.every(h => h.state === 'held' && h.ms !== null)).toBe(true)
  })

  it('is interrupted at any step and goes on with what is open', () => {
    const table = new LiveTable(room()).connect()
    const steps = stepsOf(table.design)
    const results = new Map<string, Result>()
    const around = {
      links: () => [...table.links.values()],
      press: (linkId: string, loadId: string, want: string) =>
        table.link(linkId).press(loadId, want, table.now),
      hello: () => undefined,
      ask: () => undefined,
      prints: () => ({}),
      date: () => '',
    }
    const first = new CommissioningRun(table.design, steps, results, around)
    first.begin(steps[0]!.id, table.now)
    first.begin('load booth-extractor apron-link on', table.now)
    first.put('later')
    const second = new CommissioningRun(table.design, steps, new Map(results), around)
    expect(second.next()!.id).not.toBe(steps[0]!.id)
    expect(second.next('load booth-extractor apron-link on')!.id).toBe(
      'load booth-extractor apron-link off',
    )
    for (const s of steps)
      if (!results.has(s.id))
        second.results.set(s.id, { ...results.get(steps[0]!.id)!, stepId: s.id })
    expect(second.next()!.id).toBe('load booth-extractor apron-link on')
  })
})

describe('what is disturbed is named', () => {
  /** The codes of two loads on the phone's link, exchanged: what an old program would have. */
  function exchanged(design: Design): Design {
    const codes = (id: string) => {
      const message = design.links[0]!.messages.find(m => m.loadId === id)!
      return message.codes as Record<string, string>
    }
    const [a, b] = [codes('booth-extractor'), codes('wheel-lights')]
    const links = design.links.map((l, i) =>
      i
        ? l
        : {
            ...l,
            messages: l.messages.map(m =>
              m.loadId === 'booth-extractor'
                ? { ...m, codes: b }
                : m.loadId === 'wheel-lights'
                  ? { ...m, codes: a }
                  : m,
            ),
          },
    )
    return { ...design, links } as Design
  }

  it('codes that are exchanged: the board has another table', () => {
    const design = room()
    const table = new LiveTable(design, exchanged(design)).connect()
    const found = causes(gone(table, {}, { [fingerprint(exchanged(design))]: 3 }))
    expect(found.find(c => c.startsWith('board'))).toMatch(
      /that was revision 3.*[Ww]rite its program anew/,
    )
    expect(found.find(c => c.startsWith('load booth-extractor apron-link on'))).toMatch(
      /Booth extractor moves Wheel lights: the board has another table .* so it may be the codes/,
    )
  })

  it('wires that are exchanged: the board has the table of the design', () => {
    const swap: Record<string, string> = {
      'booth-extractor': 'wheel-lights',
      'wheel-lights': 'booth-extractor',
    }
    const table = new LiveTable(room()).connect()
    const found = causes(gone(table, { sees: id => swap[id] ?? id }))
    expect(found.find(c => c.startsWith('load booth-extractor apron-link on'))).toContain(
      'it is the wires',
    )
    expect(found.find(c => c.startsWith('load wheel-lights apron-link on'))).toContain(
      'Wheel lights and Booth extractor are exchanged',
    )
    expect(found.some(c => c.includes('cupboard'))).toBe(false)
  })

  it('a pin that is inverted', () => {
    const table = new LiveTable(room()).connect()
    const found = causes(gone(table, { inverted: id => id === 'cupboard-fan' }))
    expect(found).toHaveLength(2)
    expect(found[0]).toContain('Drying cupboard fan does the opposite: its line is inverted')
  })

  it('a side that is old, and a board of another design', () => {
    const old = room()
    const design = edited(old, { type: 'reportOnConnect', linkId: 'apron-link', onConnect: true })
    const print = fingerprint(old)
    const found = causes(gone(new LiveTable(design, old).connect(), {}, { [print]: 7 }))
    expect(found[0]).toMatch(/^board .*that was revision 7; the design is at/)
    const other = causes(gone(new LiveTable(design, old).connect()))
    expect(other[0]).toContain('no kept revision of this design had')
  })

  it('a wrong speed, and a link that is dead', () => {
    const fast = new LiveTable(room())
    fast.disturb = (way, text) =>
      way === 'down' ? text.replaceAll(/./gs, '\u00f8\u0080') : '\u0080'
    fast.connect('apron-link')
    fast.links.delete('office-link')
    expect(causes(gone(fast)).find(c => c.startsWith('load booth'))).toMatch(/baud/)
    const dead = new LiveTable(room())
    dead.disturb = () => ''
    dead.connect('apron-link').run(4000)
    dead.links.delete('office-link')
    const found = causes(gone(dead))
    expect(found.find(c => c.startsWith('load booth'))).toMatch(
      /it is connected, but nobody answers.*power of the board, the speed/,
    )
  })

  it('a load that does not move though the board says so', () => {
    const table = new LiveTable(room()).connect()
    const steps = stepsOf(table.design)
    const results = new Map<string, Result>()
    const run = new CommissioningRun(table.design, steps, results, {
      links: () => [...table.links.values()],
      press: (linkId, loadId, want) => table.link(linkId).press(loadId, want, table.now),
      hello: () => undefined,
      ask: () => undefined,
      prints: () => ({}),
      date: () => '',
    })
    run.begin('load booth-extractor apron-link on', table.now)
    table.run(500)
    expect(table.twin.value('booth-extractor')).toBe('off')
    run.ready(table.now)
    table.run(500)
    run.look(table.now)
    expect(run.question).toBe('Is Booth extractor on now?')
    run.answered('no', null, table.now)
    expect(results.get('load booth-extractor apron-link on')!.cause).toMatch(
      /The board says on, but nothing moved: look at the wire from its pin/,
    )
  })
})
