/** Values told as numbers: one code for all of them, in both directions, whatever the dialect. */
import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { Bench } from '../../../../core/bench/bench'
import { check } from '../../../../core/checks/check'
import { compileController } from '../../../../core/controller/program'
import { startController, step } from '../../../../core/controller/step'
import { applyEdit, type Edit } from '../../../../core/design/edits/edits'
import { LIMITS } from '../../../../core/design/shapes'
import type {
  ByteLink,
  Design,
  Dialect,
  HttpLink,
  Link,
  Output,
} from '../../../../core/design/schema'
import { asked, isFine, isValue, shareOf, snapped, valuesOf } from '../../../../core/design/values'
import {
  assign,
  dialectEdit,
  namedCodesFor,
  numberCodesFor,
} from '../../../../core/messages/assign'
import { clashes, clashWords } from '../../../../core/messages/clashes'
import { explain, typed } from '../../../../core/messages/explain'
import { outputEdit } from '../../../../core/messages/kinds'
import { overshadowed } from '../../../../core/messages/routes'
import { codesShown } from '../../../../core/messages/table'
import { assumptionsOf } from '../../../../core/proof/assumptions'
import { proveAll } from '../../../../core/proof/prove'
import { readLog } from '../../../../core/read/log'
import { openApi } from '../../../../core/sides/openapi'
import { programLacks } from '../../../../core/sides/program/lacks'
import { compileSurface, shown, startSurface, surfaceStep } from '../../../../core/surfaces/surface'
import { DIALECTS, edited, fanDesign, speaking } from '../../../fixtures/designs'

const LEVEL: Edit[] = [
  { type: 'setKind', loadId: 'fan', kind: 'level' },
  { type: 'setOutput', loadId: 'fan', patch: { step: 1, rampMs: 0 } },
]

/** The fan as a level from 0 to 100 %, told in numbers on its one link. */
function level(dialect: Dialect, patch: Partial<ByteLink> = {}): Design {
  const design = speaking(edited(fanDesign(), ...LEVEL), dialect)
  return byNumber(edited(design, { type: 'setLink', linkId: 'phone-link', patch }))
}

function byNumber(design: Design): Design {
  const link = design.links[0] as Link
  const [load] = design.loads
  const [message] = link.messages
  if (!load || !message) throw new Error('nothing to tell')
  const codes = { [load.id]: numberCodesFor(design, link, load, message.codes) }
  return edited(design, { type: 'assignCodes', linkId: link.id, codes })
}

function browser(patch: Partial<HttpLink> = {}): Design {
  const design = edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' }, ...LEVEL, {
    type: 'addPanel',
    name: 'Phone',
    over: 'http',
  })
  const linkId = design.links[0]?.id ?? ''
  return byNumber(
    edited(
      design,
      { type: 'setLink', linkId, patch },
      {
        type: 'addMessage',
        linkId,
        loadId: 'fan',
        codes: Object.fromEntries(['0', '25', '50', '75', '100'].map(v => [v, ''])),
      },
    ),
  )
}

/** A key of the panel, carried to the board and its answer back. */
function pressed(design: Design, want: string) {
  const surface = compileSurface(design, design.surfaces.find(s => s.kind === 'panel')?.id ?? '')
  const up = surfaceStep(surface, startSurface(surface), { kind: 'linkUp', now: 0 })
  const asks = surfaceStep(surface, up.state, { kind: 'key', now: 10, load: 0, want })
  const board = heard(design, asks.sends)
  const told = surfaceStep(surface, asks.state, {
    kind: 'received',
    now: 30,
    text: board.told[0] ?? '',
    via: 'stream',
  })
  return {
    sends: asks.sends,
    value: board.value,
    shows: shown(told.state.beliefs[0]!),
    reply: board.reply,
  }
}

/** What the board is after texts, and what it tells. */
function heard(design: Design, texts: readonly string[]) {
  const program = compileController(design)
  let { state } = step(program, startController(program), { kind: 'boot', now: 0, levels: [1] })
  state = step(program, state, { kind: 'linkUp', now: 1, link: 0 }).state
  const told: string[] = []
  let reply = ''
  for (const text of texts) {
    const next = step(program, state, { kind: 'received', now: 20, link: 0, text })
    state = next.state
    for (const e of next.effects) {
      if (e.kind === 'send') told.push(e.text)
      if (e.kind === 'reply') reply = e.text
    }
  }
  return { value: state.value[0] as string, told, reply }
}

const WITH_ROOM = Object.entries(DIALECTS).filter(([, d]) => d.kind !== 'codes')

describe('numbers', () => {
  it('are the nearest there is: against trying all of them', () => {
    const stop = fc.integer({ min: 1, max: 100 })
    fc.assert(
      fc.property(
        fc.uniqueArray(stop, { minLength: 1, maxLength: 6 }),
        fc.option(fc.integer({ min: 1, max: 50 })),
        fc.integer({ min: -300, max: 300 }),
        (more, spacing, wanted) => {
          const stops = [0, ...more.toSorted((a, b) => a - b)]
          const output = { ...outputOf(edited(fanDesign(), ...LEVEL)), stops, step: spacing }
          const high = stops.at(-1) as number
          const grid = spacing === null ? [] : Array.from({ length: high + 1 }, (_, i) => i)
          const all = [
            ...new Set([...stops, ...grid.filter(n => n % (spacing as number) === 0)]),
          ].toSorted((a, b) => a - b)
          const nearest = all.reduce((best, n) =>
            Math.abs(n - wanted) < Math.abs(best - wanted) ? n : best,
          )
          expect(snapped(output as Output, wanted)).toBe(String(nearest))
          for (const n of [wanted, nearest])
            expect(isValue(output as Output, String(n))).toBe(all.includes(n))
          expect(isFine(output as Output)).toBe(all.length > stops.length)
        },
      ),
      { numRuns: 2000 },
    )
  })
  it('steps go from one named value to the next, from between them too', () => {
    const output = outputOf(edited(fanDesign(), ...LEVEL))
    expect(
      (['up', 'down', 'next', 'toggle'] as const).map(asks => asked(output, '37', asks)),
    ).toEqual(['50', '25', '50', '0'])
    expect(['0', '25', '100'].map(v => asked(output, v, 'up'))).toEqual(['25', '50', '100'])
    expect(['0', '25', '100'].map(v => asked(output, v, 'down'))).toEqual(['0', '0', '75'])
    expect(['0', '37', '100', 'unknown'].map(v => shareOf(output, v))).toEqual([0, 0.37, 1, 0])
  })
})

describe.each(WITH_ROOM)('in %s', (_, dialect) => {
  it('every number comes over, and is told back as it is', () => {
    const design = level(dialect)
    for (let n = 0; n <= 100; n++) {
      const { value, shows } = pressed(design, String(n))
      expect([value, shows], String(n)).toEqual([String(n), String(n)])
    }
  })
  it('named values have no code of their own, and go by the number', () => {
    const design = level(dialect)
    const [message] = design.links[0]!.messages
    expect(valuesOf(outputOf(design)).map(v => message!.codes[v as never])).toEqual(
      Array(5).fill(''),
    )
    expect(clashes(design, design.links[0]!)).toEqual([])
    expect(codesShown(design.loads[0]!, message!)).toHaveLength(1)
  })
  it('beyond the ends and between the steps the nearest counts, and the answer says so', () => {
    const design = edited(level(dialect), {
      type: 'setOutput',
      loadId: 'fan',
      patch: { step: 5, stops: [0, 33, 100] },
    })
    for (const [n, takes] of [
      [97, '95'],
      [98, '100'],
      [34, '33'],
      [35, '35'],
      [2, '0'],
    ] as const) {
      const whole = level(dialect)
      const surface = compileSurface(whole, 'phone')
      const up = surfaceStep(surface, startSurface(surface), { kind: 'linkUp', now: 0 })
      const { sends } = surfaceStep(surface, up.state, {
        kind: 'key',
        now: 1,
        load: 0,
        want: String(n),
      })
      expect(heard(design, sends).value, String(n)).toBe(takes)
    }
  })
})

describe('numbers beyond', () => {
  it.each(['lines', 'crlf', 'pairs', 'json'])('in words: %s', name => {
    const design = level(DIALECTS[name]!)
    const { sends } = pressed(design, '50')
    const say = (n: string) => heard(design, [sends[0]!.replace('50', n)]).value
    expect(['101', '9999', '-5', '007'].map(say)).toEqual(['100', '100', '0', '7'])
    // Spaces do not matter in JSON.
    for (const none of ['5.5', 'x', '', '1e2', '12345678', '--5', name === 'json' ? '-' : '5 5']) {
      const board = heard(design, [sends[0]!, sends[0]!.replace('50', none)])
      expect(board.value, none).toBe('50')
    }
  })
})

describe('numbers over HTTP', () => {
  it('every number is asked for and answered', () => {
    for (const answers of ['text', 'json', 'page'] as const) {
      const design = browser({ answers })
      const surface = compileSurface(design, design.surfaces.find(s => s.kind === 'panel')!.id)
      for (const n of ['0', '1', '37', '100']) {
        const { value, reply: answer } = pressed(design, n)
        expect(value).toBe(n)
        const up = surfaceStep(surface, startSurface(surface), { kind: 'linkUp', now: 0 })
        const told = surfaceStep(surface, up.state, {
          kind: 'received',
          now: 3,
          text: answer,
          via: surface.ignoresReplies ? 'ask' : 'command',
        })
        expect(shown(told.state.beliefs[0]!), answer).toBe(n)
      }
    }
  })
  it('in a path, in parameters in any order, by prefix', () => {
    const path = browser()
    const code = (d: Design) => d.links[0]!.messages[0]!.codes['number' as never] as string
    expect(code(path)).toBe('/fan/{value}')
    expect(heard(path, ['/fan/42']).value).toBe('42')
    const params = edited(path, {
      type: 'renameCode',
      linkId: path.links[0]!.id,
      loadId: 'fan',
      which: 'number',
      code: '/set?pin=5&value={value}',
    })
    expect(heard(params, ['/set?value=42&pin=5']).value).toBe('42')
    expect(heard(params, ['/set?value=42&pin=6', '/set?value=&pin=5']).value).toBe('0')
    const prefix = edited(path, {
      type: 'setLink',
      linkId: path.links[0]!.id,
      patch: { matching: 'prefix' },
    })
    expect(heard(prefix, ['/fan/42 HTTP/1.1']).value).toBe('42')
    expect(heard(prefix, ['/x/fan/42']).value).toBe('0')
    // A named value is the beginning of others, and is not taken for them.
    expect(['/fan/25', '/fan/250', '/fan/007'].map(r => heard(prefix, [r]).value)).toEqual([
      '25',
      '100',
      '7',
    ])
    expect(overshadowed(prefix, prefix.links[0] as HttpLink)).toEqual([])
    const own = edited(prefix, {
      type: 'renameCode',
      linkId: prefix.links[0]!.id,
      loadId: 'fan',
      which: '25',
      code: '/fan/3',
    })
    expect(overshadowed(own, own.links[0] as HttpLink)).toMatchObject([
      { route: '/fan/30', by: '/fan/3', means: 'Fan 30 %', does: 'Fan 25 %' },
    ])
    expect(check(own).findings.map(f => f.code)).toContain('route-overshadowed')
    const codes = assign(params, params.links[0]!, 'parameters')
    expect(codes.fan?.number).toBe('/set?load=fan&value={value}')
  })
  it('stands in the OpenAPI document, in the path and among parameters', () => {
    const design = browser()
    const api = (d: Design) =>
      JSON.parse(openApi(d, d.links[0] as HttpLink)) as {
        paths: Record<
          string,
          { get: { parameters: { name: string; in: string; schema: object }[] } }
        >
      }
    expect(api(design).paths['/fan/{value}']?.get.parameters).toEqual([
      expect.objectContaining({
        name: 'value',
        in: 'path',
        schema: { type: 'integer', minimum: 0, maximum: 100 },
      }),
    ])
    const asks = edited(
      design,
      {
        type: 'renameCode',
        linkId: design.links[0]!.id,
        loadId: 'fan',
        which: 'number',
        code: '/set?value={value}',
      },
      {
        type: 'renameCode',
        linkId: design.links[0]!.id,
        loadId: 'fan',
        which: 'up',
        code: '/set?value=up',
      },
    )
    const { schema } = api(asks).paths['/set']!.get.parameters[0]!
    expect(JSON.stringify(schema)).toContain('"maximum":100')
    expect(JSON.stringify(schema)).toContain('"up"')
  })
})

describe('numbers with what else stands behind a command', () => {
  const PATCHES: [string, Partial<ByteLink>][] = [
    ['a number of the command', { numbered: { windowMs: 5000 } }],
    ['a word', { auth: { kind: 'word' } }],
    ['a PIN', { auth: { kind: 'pin', digits: 4 } }],
    ['a counter', { auth: { kind: 'counter', tagBytes: 8, window: 4 } }],
    [
      'a counter and a number',
      { auth: { kind: 'counter', tagBytes: 8, window: 4 }, numbered: { windowMs: 5000 } },
    ],
  ]
  it.each(PATCHES)('%s', (_, patch) => {
    for (const [name, dialect] of WITH_ROOM) {
      if (dialect.kind === 'packed') continue
      const design = level(dialect, patch)
      for (const n of ['0', '7', '99']) {
        const { value, sends } = pressed(design, n)
        expect(value, `${name} ${n}`).toBe(n)
        // A copy is no second command, and without its proof it is none.
        if (patch.auth) {
          const bare = level(dialect)
          expect(heard(design, pressed(bare, n).sends).value, name).toBe('0')
        }
        expect(heard(design, [...sends, ...sends]).value).toBe(n)
      }
    }
  })
  it('a signed number in a structure', () => {
    const design = level(DIALECTS.slip!, { auth: { kind: 'counter', tagBytes: 8, window: 4 } })
    for (const n of ['0', '100']) expect(pressed(design, n).value).toBe(n)
  })
})

describe('links that know no number', () => {
  const design = level(DIALECTS.lines!)
  it('short codes have no room: the dialect drops it, and the schema refuses it', () => {
    const short = edited(design, dialectEdit(design, 'phone-link', { kind: 'codes' }))
    const [message] = short.links[0]!.messages
    expect(message!.codes['number' as never]).toBeUndefined()
    expect(clashes(short, short.links[0]!)).toEqual([])
    expect(
      applyEdit(short, {
        type: 'renameCode',
        linkId: 'phone-link',
        loadId: 'fan',
        which: 'number',
        code: 'f{value}',
      }),
    ).toMatchObject({ ok: false, problems: [{ path: '/links/0/messages/0/codes/number' }] })
    const found = check(short).findings
    expect(found.map(f => f.code)).toContain('numbers-unsaid')
    expect(found.map(f => f.code)).toContain('numbers-unasked')
  })
  it('a key asks for the nearest named value there, and hears it', () => {
    const short = edited(design, dialectEdit(design, 'phone-link', { kind: 'codes' }))
    expect(pressed(short, '37')).toMatchObject({ value: '25', shows: '25' })
    expect(pressed(short, '38')).toMatchObject({ value: '50' })
  })
  it('what another link set is told there as the nearest named value', () => {
    const short = edited(design, dialectEdit(design, 'phone-link', { kind: 'codes' }))
    const two = edited(short, { type: 'addPanel', name: 'Browser', over: 'http' })
    const linkId = two.links[1]!.id
    const both = edited(two, {
      type: 'addMessage',
      linkId,
      loadId: 'fan',
      codes: { 0: '', 25: '', 50: '', 75: '', 100: '', number: '/fan/{value}' },
    })
    const program = compileController(both)
    const { state } = step(program, startController(program), {
      kind: 'boot',
      now: 0,
      levels: [1],
    })
    const up = step(program, state, { kind: 'linkUp', now: 1, link: 0 }).state
    const { effects } = step(program, up, { kind: 'received', now: 9, link: 1, text: '/fan/70' })
    const sent = effects.flatMap(e => (e.kind === 'send' && e.link === 0 ? [e.text] : []))
    const surface = compileSurface(both, 'phone')
    const panel = surfaceStep(surface, startSurface(surface), { kind: 'linkUp', now: 0 }).state
    const told = surfaceStep(surface, panel, {
      kind: 'received',
      now: 1,
      text: sent[0]!,
      via: 'stream',
    })
    expect(shown(told.state.beliefs[0]!)).toBe('75')
    expect(assumptionsOf(both, 'fan', 'P1')).toContainEqual(
      expect.objectContaining({ id: 'set-points', open: true, surfaceId: 'phone' }),
    )
    expect(check(both).findings.find(f => f.code === 'numbers-unsaid')).toMatchObject({
      path: '/links/0/messages/0',
      severity: 'note',
    })
  })
  it('the note goes with its fix', () => {
    const named = speaking(edited(fanDesign(), ...LEVEL), DIALECTS.lines!)
    const note = check(named).findings.find(f => f.code === 'numbers-unsaid')
    expect(note?.fixes).toHaveLength(1)
    const codes = check(edited(named, note!.fixes[0]!.edit)).findings.map(f => f.code)
    expect(codes).not.toContain('numbers-unsaid')
    expect(codes).not.toContain('numbers-unasked')
  })
})

describe('what a code for numbers takes', () => {
  const line: Dialect = { kind: 'lines', template: '{load} {value}', terminator: 'lf' }
  const two = () => {
    const one = level(line)
    const more = edited(
      one,
      { type: 'addLoad', name: 'Lamp', id: 'lamp' },
      { type: 'addMessage', linkId: 'phone-link', loadId: 'lamp', codes: { on: 'L', off: 'l' } },
    )
    return more
  }
  const renamed = (which: string, code: string, loadId = 'lamp') =>
    applyEdit(two(), { type: 'renameCode', linkId: 'phone-link', loadId, which, code })
  it('is told as a clash where another code is such a number', () => {
    const cases: [string, string, number][] = [
      ['on', 'fan 50', 1],
      ['on', 'fan 101', 0],
      ['on', 'fan x', 0],
      ['on', 'fan', 0],
    ]
    for (const [which, code, count] of cases) {
      const applied = renamed(which, code)
      if (!applied.ok) throw new Error(code)
      const found = clashes(applied.design, applied.design.links[0]!)
      expect(found, code).toHaveLength(count)
      if (count) expect(clashWords(found[0]!)).toContain('Lamp on')
    }
  })
  it('is told where two codes for numbers meet', () => {
    const both = edited(
      two(),
      { type: 'setKind', loadId: 'lamp', kind: 'level' },
      {
        type: 'assignCodes',
        linkId: 'phone-link',
        codes: { lamp: { 0: '', 25: '', 50: '', 75: '', 100: '', number: 'fan 1{value}' } },
      },
    )
    expect(clashes(both, both.links[0]!)).toHaveLength(1)
    const apart = edited(both, {
      type: 'renameCode',
      linkId: 'phone-link',
      loadId: 'lamp',
      which: 'number',
      code: 'lamp {value}',
    })
    expect(clashes(apart, apart.links[0]!)).toEqual([])
  })
  it('needs its place once', () => {
    for (const code of ['fan', 'fan {value} {value}', 'fan {Value}'])
      expect(renamed('number', code, 'fan'), code).toMatchObject({
        ok: false,
        problems: [{ path: '/links/0/messages/0/codes/number' }],
      })
  })
  it('a structure needs a field that is wide enough', () => {
    const slip = DIALECTS.slip as Extract<Dialect, { kind: 'packed' }>
    const knob = edited(level(slip), { type: 'setKind', loadId: 'fan', kind: 'follower' })
    const wide = applyEdit(knob, outputEdit(knob, 'fan', { positions: 400 }))
    const field = slip.fields.find(f => f.is === 'value')?.type
    if (field === 'u8') expect(wide.ok).toBe(false)
    else expect(wide.ok).toBe(true)
  })
})

describe('an imitated knob of many positions', () => {
  const line: Dialect = { kind: 'lines', template: '{load} {value}', terminator: 'lf' }
  const knob = (positions: number) => {
    const design = edited(level(line), { type: 'setKind', loadId: 'fan', kind: 'follower' })
    return edited(design, outputEdit(design, 'fan', { positions }))
  }
  it('is named at its ends and quarters, and reached by number', () => {
    const design = byNumber(knob(101))
    expect(valuesOf(outputOf(design))).toEqual(['0', '25', '50', '75', '100'])
    expect(pressed(design, '63')).toMatchObject({ value: '63', shows: '63' })
    const program = compileController(design)
    let { state } = step(program, startController(program), { kind: 'boot', now: 0, levels: [1] })
    const say = (now: number, text: string) => {
      state = step(program, state, { kind: 'received', now, link: 0, text }).state
    }
    say(10, 'fan 10\n')
    say(20, 'fan 12\n')
    for (let now = 21; now < 600; now++) state = step(program, state, { kind: 'tick', now }).state
    expect(state.motion[0]).toMatchObject({ own: 12, pulse: null })
  })
  it('has no more names than there is room for', () => {
    expect(valuesOf(outputOf(knob(LIMITS.values)))).toHaveLength(LIMITS.values)
    expect(valuesOf(outputOf(knob(LIMITS.values + 1)))).toHaveLength(5)
    const design = structuredClone(knob(101))
    Object.assign(design.loads[0]!.output, { stops: null })
    expect(applyEdit(design, { type: 'renameDesign', name: 'Same' } as never)).toMatchObject({
      ok: false,
    })
  })
})

describe('numbers elsewhere', () => {
  const line: Dialect = { kind: 'lines', template: '{load} {value}', terminator: 'lf' }
  it('a fader on the bench sends what it can, and ends on the exact number', () => {
    const bench = new Bench(level(line))
    bench.advance(3000)
    for (let n = 1; n <= 63; n++) {
      bench.act({ do: 'slide', surfaceId: 'phone', loadId: 'fan', want: String(n) })
      bench.advance(3000 + 10 * n)
    }
    bench.advance(9000)
    expect([bench.value('fan'), bench.shown('phone', 'fan')]).toEqual(['63', '63'])
  })
  it('the proof tries the named values, says so, and comes to the same as without numbers', () => {
    const fine = level(line)
    const [message] = fine.links[0]!.messages
    const codes = namedCodesFor(fine, fine.links[0]!, fine.loads[0]!, message!.codes)
    const plain = edited(fine, {
      type: 'assignCodes',
      linkId: 'phone-link',
      codes: { fan: codes },
    })
    const results = (d: Design) => proveAll(d, 'fan').map(r => [r.promise, r.result])
    expect(results(fine)).toEqual(results(plain))
    const words = assumptionsOf(fine, 'fan', 'P1').map(a => a.id)
    expect(words).toContain('set-points')
    expect(assumptionsOf(plain, 'fan', 'P1').map(a => a.id)).not.toContain('set-points')
  })
  it('are explained, read from logs, and named as missing from the program', () => {
    const design = level(line)
    const link = design.links[0]!
    const said = typed(link, 'fan 37\\n')
    if (!said.ok) throw new Error(said.message)
    expect(JSON.stringify(explain(design, link, said.text))).toContain('Fan 37 %')
    expect(readLog(design, link, '10 ms > fan 37\n20 ms < +fan 37').map(l => l.means)).toEqual([
      ['Fan 37 %'],
      ['Fan 37 %, reported'],
    ])
    expect(programLacks(design)).toEqual([])
  })
})

function outputOf(design: Design): Output {
  return design.loads[0]!.output
}
