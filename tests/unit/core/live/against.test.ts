/** The board in the hand against the design, on a made-up clock: as it is, and with wrongs. */
import { describe, expect, it } from 'vitest'
import type { Design } from '../../../../core/design/schema'
import { Against, STEP_MS, trialsOf, type Deed, type Tried } from '../../../../core/live/against'
import {
  DIALECTS,
  edited,
  fanDesign,
  glazeRoom,
  kilnCorridor,
  over,
  speaking,
  tellingAll,
} from '../../../fixtures/designs'
import { LiveTable } from '../../../fixtures/live'

function tried(table: LiveTable): Tried[] {
  const { design } = table
  const does = (deed: Deed) => {
    const link = table.link(deed.linkId)
    switch (deed.do) {
      case 'say':
        return link.say(deed.text, table.now)
      case 'press':
        return link.press(deed.loadId, deed.want, table.now)
      case 'scene':
        return link.scene(deed.sceneId, table.now)
      case 'drop':
        return void table.lose(deed.linkId)
      case 'restore':
        return void table.up(deed.linkId)
    }
  }
  const trials = trialsOf(design, [...table.links.keys()])
  const against = new Against(
    design,
    trials,
    { link: id => table.links.get(id), does },
    {},
    0,
    table.now,
  )
  for (const [id, link] of table.links) link.tap = (text, now) => against.sent(id, text, now)
  for (let n = 0; !against.over && n < 200_000; n++) {
    against.look(table.now)
    table.run(STEP_MS)
  }
  expect(against.over).toBe(true)
  expect(against.results).toHaveLength(trials.length)
  return against.results
}
const failed = (results: Tried[]) =>
  results.filter(r => !r.passed).map(r => `${r.words}: ${r.found}`)
/** Every change is told on every link. */
function lined(): Design {
  const plain = speaking(glazeRoom(), { ...DIALECTS.lines!, template: '{load} {value}' } as never)
  return tellingAll(plain)
}

describe('a board as designed', () => {
  it.each([
    ['codes and routes', () => fanDesign()],
    ['lines and routes', lined],
    ['opposed, levels, sensors', () => kilnCorridor()],
    ['datagrams', () => over(lined(), 'udp')],
    [
      'signed',
      () =>
        edited(speaking(fanDesign(), DIALECTS.lines!), {
          type: 'setLink',
          linkId: fanDesign().links[0]!.id,
          patch: { auth: { kind: 'counter', tagBytes: 8, window: 0 } },
        }),
    ],
  ] as const)('%s: everything that it says is as the design says', (_, made) => {
    const results = tried(new LiveTable(made()).connect())
    expect(failed(results)).toEqual([])
    expect(results.filter(r => r.kind === 'message').length).toBeGreaterThan(4)
  })
})

describe('a board that is otherwise', () => {
  const otherwise = (change: (d: Design) => Design): string[] => {
    const design = lined()
    return failed(tried(new LiveTable(design, change(structuredClone(design))).connect()))
  }
  const inMessages = (d: Design, change: (m: never) => void): Design => {
    for (const l of d.links) for (const m of l.messages) change(m as never)
    return d
  }

  it('does not answer', () => {
    const found = otherwise(d =>
      inMessages(d, (m: { ack: boolean; loadId: string }) => {
        if (m.loadId === 'wheel-lights') m.ack = false
      }),
    )
    expect(found.length).toBeGreaterThan(0)
    expect(found.every(f => f.includes('Wheel lights') || f.includes('shows'))).toBe(true)
    expect(found[0]).toContain('which did not come')
  })
  it('says it otherwise', () => {
    const found = otherwise(d => {
      for (const l of d.links) if ('reportMark' in l) l.reportMark = '='
      return d
    })
    expect(found.some(f => f.includes('which the design does not say'))).toBe(true)
  })
  it('takes one code for another', () => {
    const found = otherwise(d =>
      inMessages(d, (m: { loadId: string; codes: Record<string, string> }) => {
        if (m.loadId === 'booth-extractor' && m.codes.on!.startsWith('booth'))
          [m.codes.on, m.codes.off] = [m.codes.off!, m.codes.on!]
      }),
    )
    expect(found.some(f => f.startsWith('Booth extractor on'))).toBe(true)
  })
  it('toggles where it is to switch on', () => {
    const table = new LiveTable(lined())
    table.disturb = (way, text) => (way === 'up' ? text.replace('wheel on', 'wheel toggle') : text)
    const found = failed(tried(table.connect()))
    expect(found.some(f => f.includes('Wheel lights'))).toBe(true)
  })
  it('answers late', () => {
    const table = new LiveTable(lined()).connect()
    table.delay = () => 450
    const found = failed(tried(table))
    expect(found.length).toBeGreaterThan(4)
    expect(found.some(f => /came only after 9\d\d ms/.test(f))).toBe(true)
  })
  it('says nothing of one load: each time', () => {
    const table = new LiveTable(lined())
    table.disturb = (way, text) => (way === 'down' && text.includes('wheel') ? '' : text)
    const results = tried(table.connect())
    const found = failed(results)
    expect(found.some(f => f.startsWith('Wheel lights'))).toBe(true)
    expect(found.filter(f => !/Wheel lights|wheel/.test(f))).toEqual([])
    expect(results.filter(r => r.before !== '').every(r => /[Ww]heel/.test(r.before))).toBe(true)
  })
  it('tells the browser nothing of what others change', () => {
    const found = otherwise(d =>
      inMessages(d, (m: { loadId: string; change: boolean; codes: Record<string, string> }) => {
        if (m.loadId === 'wheel-lights' && m.codes.on!.startsWith('/')) m.change = false
      }),
    )
    expect(found.some(f => f.includes('Office browser link: expected "Wheel lights is on"'))).toBe(
      true,
    )
  })
})

describe('once only', () => {
  /** The nth message of a way is lost, or comes so much later. */
  function once(way: 'up' | 'down', nth: number, lateMs: number | null): Tried[] {
    const table = new LiveTable(lined()).connect()
    let n = 0
    let wait = 10
    table.disturb = (of, text) => {
      const isIt = of === way && ++n === nth
      wait = isIt ? (lateMs ?? 10) : 10
      return isIt && lateMs === null ? '' : text
    }
    table.delay = () => wait
    return tried(table)
  }

  it.each(['up', 'down'] as const)('%s, late: tried again, and told of', way => {
    for (const nth of [1, 2, 3, 5, 13]) {
      const results = once(way, nth, 700)
      expect(failed(results), `${nth}`).toEqual([])
      const again = results.filter(r => r.before !== '')
      expect(again.length, `${nth}`).toBeLessThan(3)
      if (nth < 4)
        expect(again.map(r => r.before).join(), `${nth}`).toMatch(
          /came (only after|\d+ ms too late)/,
        )
    }
  })

  it('lost: told, by its own name only', () => {
    expect(failed(once('up', 3, null))).toEqual([
      expect.stringMatching(/^Booth extractor toggle: .*which did not come/),
    ])
    // One toggle of two leaves the load the other way: what follows begins from there.
    expect(failed(once('up', 21, null))).toEqual([
      expect.stringMatching(/^Booth extractor toggle, said twice: .* "Booth extractor is on" came/),
    ])
  })
})
