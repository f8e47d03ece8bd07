/** Papers of what was done in the house: a commissioning, and one page as built. */
import { describe, expect, it } from 'vitest'
import { fingerprint } from '../../../../core/design/fingerprint'
import type { Commissioning } from '../../../../core/live/commissioning/record'
import { commissioningSchema, tally } from '../../../../core/live/commissioning/record'
import { stepsOf } from '../../../../core/live/commissioning/steps'
import { asBuilt, type BuiltRecord } from '../../../../core/sides/as-built'
import { commissionedSheet } from '../../../../core/sides/commissioned-sheet'
import { glazeRoom } from '../../../fixtures/designs'

const design = glazeRoom()
const print = fingerprint(design)
const steps = stepsOf(design).map(({ id, chapter, about, does, asks }) => ({
  id,
  chapter,
  about,
  does,
  asks,
}))
const at = '2026-11-30T10:00:00.000Z'
const run: Commissioning = {
  kind: 'commissioning',
  revision: 3,
  fingerprint: print,
  startedAt: at,
  steps,
  results: [
    {
      stepId: 'load booth-extractor apron-link on',
      state: 'passed',
      heard: [{ words: 'Apron phone link says Booth extractor on', state: 'held', ms: 48 }],
      answer: 'yes',
      otherId: null,
      cause: '',
      at,
    },
    {
      stepId: 'load wheel-lights apron-link on',
      state: 'differs',
      heard: [],
      answer: 'another',
      otherId: 'rinse-pump',
      cause: 'Wheel lights moves <Rinse pump>: two codes or two wires.',
      at,
    },
  ],
}

describe('the sheet of a commissioning', () => {
  it('tells every step, what was heard with its time, and what differs', () => {
    expect(commissioningSchema.safeParse(run).success).toBe(true)
    expect(tally(run)).toEqual({
      passed: 1,
      differs: 1,
      leftOut: 0,
      open: steps.length - 2,
      of: steps.length,
    })
    const sheet = commissionedSheet(design, run, '30 Nov 2026')
    expect(sheet).toContain('Apron phone link says Booth extractor on after 48 ms')
    expect(sheet).toContain('Wheel lights moves &lt;Rinse pump&gt;')
    expect(sheet.match(/<tr>/g)).toHaveLength(steps.length)
    expect(sheet).toContain(`table <code>${print}</code>`)
    expect(sheet).toContain(`1 of ${steps.length} steps as designed, 1 differ`)
  })
})

describe('as built', () => {
  const record = (kind: string, body: object, more: Partial<BuiltRecord> = {}): BuiltRecord => ({
    kind,
    revision: 3,
    title: 'x',
    at,
    body,
    ...more,
  })
  const upload = (of: string) =>
    record('upload', {
      controllerId: 'board',
      chip: 'chip of the class',
      bytes: 10,
      fingerprint: of,
    })
  const { kind: _, revision: __, ...commissioned } = run
  const records = [
    record('note', { text: 'Fuse: 2 A\n<slow>', pictures: [] }),
    record('measured', {
      linkId: 'office-link',
      count: 200,
      lost: 0,
      leastMs: 4,
      typicalMs: 11,
      p99Ms: 60,
    }),
    record('commissioning', commissioned),
    upload(print),
    record('note', 'no note at all' as never),
  ]
  const changes = [
    { number: 5, words: 'Lamp is called Light' },
    { number: 2, words: 'older' },
  ]

  it('tells boards, commissioning, loads, links and notes', () => {
    const page = asBuilt({ design, revision: 5, records, changes })
    expect(page).toContain('2026-11-30, onto chip of the class')
    expect(page).toContain(`<code>${print}</code></td>`)
    expect(page).toContain(`1 of ${steps.length} steps as designed`)
    expect(page).toContain('Wheel lights, over Apron phone link: Wheel lights moves')
    expect(page).toContain('typical 11 ms, 99 of 100 within 60 ms')
    expect(page).toContain('Fuse: 2 A<br>&lt;slow&gt;')
    expect(page).toContain('<code>D5</code>')
    expect(page).not.toContain('Changed since')
  })

  it('tells what was changed since what is on a board', () => {
    const old = records.map(r => (r.kind === 'upload' ? upload('ABCDEF') : r))
    const page = asBuilt({ design, revision: 5, records: old, changes })
    expect(page).toContain('<code>ABCDEF</code>, older')
    expect(page).toContain('<li>5: Lamp is called Light</li>')
    expect(page).not.toContain('2: older')
  })

  it('says what was never done', () => {
    const page = asBuilt({ design, revision: 1, records: [], changes: [] })
    expect(page).toContain('not from here')
    expect(page).toContain('Not commissioned yet')
    expect(page).toContain('not measured')
  })
})
