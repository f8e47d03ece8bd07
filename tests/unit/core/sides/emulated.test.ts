/**
 * The program as the board runs it: its machine code and the packaged core's, emulated, against
 * `step`. Whole numbers are 16 bits wide here, memory is 2048 bytes, bytes take their time on the
 * line. NOLVI_EMULATED tries more designs, with more scripts each, from another seed: "3 4 900".
 */
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { structureOn } from '../../../../core/design/links/traits'
import { canProgram } from '../../../../core/sides/program/can-program'
import { programFolder } from '../../../../core/sides/program/folder'
import { practiceSecrets, programImage } from '../../../../core/sides/program/image'
import { imageFit } from '../../../../core/sides/program/image-fit'
import { IMAGE_ROOMS } from '../../../../core/sides/program/image-rooms'
import { programLacks } from '../../../../core/sides/program/lacks'
import type { Design, Link } from '../../../../core/design/schema'
import { wireOf } from '../../../../core/design/wire'
import { practiceSecret, sealedText } from '../../../../core/messages/sealing'
import { startsTimers, withTime } from '../../../../core/messages/times'
import {
  crowded,
  DIALECTS,
  edited,
  glazeRoom,
  smallDesigns,
  starter,
} from '../../../fixtures/designs'
import { flashOf } from '../../../../core/emulated/board'
import { playBoth } from '../../../fixtures/avr-board/play'
import { AvrToolchain } from '../../../fixtures/avr-board/toolchain'
import type { TimedLine } from '../../../fixtures/avr-board/step-board'
import { avrTools, canRun } from '../../../fixtures/tools'

const [DESIGNS = 1, SCRIPTS = 2, SEED = 61] = (process.env.NOLVI_EMULATED ?? '')
  .split(' ')
  .filter(Boolean)
  .map(Number)

/** Bytes of memory that nothing ever reached between what is kept and what calls need. */
const STACK_LEFT = 48

/**
 * Right, bare, wrong, spoilt and repeated commands of every code, times of their own, presses,
 * links lost, starts and cuts.
 */
function anyScript(design: Design, link: Link | undefined): fc.Arbitrary<TimedLine[]> {
  const status = link?.kind === 'bluetooth-serial' ? link.statusPin : null
  const inputs = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls.map(c => c.pin) : []))
  const codes = link
    ? [...link.messages.flatMap(m => Object.values(m.codes)), ...Object.values(link.scenes)].filter(
        Boolean,
      )
    : []
  const times =
    link && startsTimers(link)
      ? link.messages.flatMap(m =>
          [m.codes.for, m.codes.after, m.codes.blink].flatMap(c =>
            c ? [700, 9000, 70_000].map(ms => withTime(link, c, ms)) : [],
          ),
        )
      : []
  const said = fc.record({
    what: fc.constant('said' as const),
    code: fc.constantFrom(...codes, ...times, ...times),
    how: fc.constantFrom('right', 'right', 'right', 'bare', 'wrong', 'spoilt', 'again'),
  })
  const thing = fc.oneof(
    ...(codes.length
      ? [
          { weight: 6, arbitrary: said },
          { weight: 1, arbitrary: fc.constant({ what: 'ask' as const }) },
        ]
      : []),
    ...(inputs.length
      ? [
          {
            weight: 3,
            arbitrary: fc.record({
              what: fc.constant('press' as const),
              pin: fc.constantFrom(...inputs),
              forMs: fc.constantFrom(100, 900),
            }),
          },
        ]
      : []),
    ...(status !== null ? [{ weight: 1, arbitrary: fc.constant({ what: 'lost' as const }) }] : []),
    {
      weight: 1,
      arbitrary: fc.record({ what: fc.constant('start' as const), offMs: fc.constantFrom(0, 700) }),
    },
  )
  const gap = fc.constantFrom(100, 350, 1100, 2600)
  return fc.array(fc.tuple(gap, thing), { minLength: 4, maxLength: 14 }).map(things => {
    const lines: TimedLine[] = []
    let t = 0
    let counter = 0
    let last = ''
    const line = (
      l:
        | Omit<Extract<TimedLine, { do: 'boot' | 'off' | 'go' }>, 't'>
        | { do: 'pin'; pin: number; level: 0 | 1 }
        | { do: 'rx'; text: string },
    ) => lines.push({ ...l, t } as TimedLine)
    const start = () => {
      if (status !== null) line({ do: 'pin', pin: status, level: 0 })
      line({ do: 'boot' })
      t += 300
      if (status !== null) line({ do: 'pin', pin: status, level: 1 })
    }
    start()
    for (const [afterMs, x] of things) {
      t += afterMs
      if (x.what === 'said' && link) {
        const text =
          x.how === 'again'
            ? last
            : x.how === 'bare'
              ? wireOf(link, x.code, 'command')
              : sealedText(link, x.code, {
                  secret: x.how === 'wrong' ? '543210' : practiceSecret(link),
                  counter: ++counter,
                })
        last = x.how === 'spoilt' ? text.replace(/[0-9a-f]/, 'x') : text
        if (last) line({ do: 'rx', text: last })
      }
      if (x.what === 'ask' && link && 'askCode' in link && link.askCode)
        line({ do: 'rx', text: wireOf(link, link.askCode, 'command') })
      if (x.what === 'press') {
        line({ do: 'pin', pin: x.pin, level: 0 })
        t += x.forMs
        line({ do: 'pin', pin: x.pin, level: 1 })
      }
      if (x.what === 'lost' && status !== null) {
        line({ do: 'pin', pin: status, level: 0 })
        t += 500
        line({ do: 'pin', pin: status, level: 1 })
      }
      if (x.what === 'start') {
        if (x.offMs) line({ do: 'off' })
        t += x.offMs
        start()
      }
    }
    t += 12_000
    line({ do: 'go' })
    return lines
  })
}

describe('the program on the emulated board against step()', () => {
  const can = canRun('Emulating the board', avrTools())
  let tools: AvrToolchain
  beforeAll(() => {
    if (can) tools = new AvrToolchain()
  })
  afterAll(() => tools?.dispose())

  /**
   * Ms in which the board is done with a command: memory, an answer that fills its buffer, a
   * signature.
   */
  const compare = (
    design: Design,
    quietMs: number,
    scripts = SCRIPTS,
    program = programFolder(design, 'program'),
    alsoImage = true,
  ) => {
    expect(canProgram(design)).toBe(true)
    expect(programLacks(design)).toEqual([])
    const { elf, ram } = tools.build(program)
    const flashes = [[tools.flash(elf), ram] as const]
    // What is made beforehand does the same; where it has no room it says so, and is not made.
    const image = programImage(design, practiceSecrets(design))
    if (image && alsoImage)
      flashes.push([flashOf(image), IMAGE_ROOMS[imageFit(design).name]!.memory])
    const link = design.links.find(l => l.kind === 'bluetooth-serial' || l.kind === 'wire')
    let moments = 0
    let answers = 0
    let least = Infinity
    fc.assert(
      fc.property(anyScript(design, link), lines => {
        for (const [flash, ram] of flashes) {
          const played = playBoth(design, flash, lines, quietMs)
          for (const m of played.moments)
            expect(`${m.t} ms: ${m.board}`).toBe(`${m.t} ms: ${m.step}`)
          expect(played.lost).toBe(0)
          least = Math.min(least, played.board.running ? played.board.stackLeft(ram) : least)
          moments += played.moments.length
          answers += played.moments.filter(m => !m.step.endsWith(' ')).length
        }
      }),
      { numRuns: scripts, seed: SEED, endOnFailure: true },
    )
    console.info(`${design.name}: ${flashes.length} programs, ${least} bytes of memory untouched`)
    expect(least).toBeGreaterThan(STACK_LEFT)
    return { moments, answers }
  }
  const shapes = (kinds: Parameters<typeof smallDesigns>[0]) =>
    fc.sample(
      smallDesigns(kinds).filter(
        d =>
          d.links.some(l => l.kind === 'bluetooth-serial')
          && d.loads.every(l => l.output.kind !== 'opposed' || l.output.drive !== 'stepper'),
      ),
      { numRuns: DESIGNS, seed: SEED },
    )

  it.skipIf(!can).each([
    [
      'glaze room',
      () => edited(glazeRoom(), { type: 'removeSurface', surfaceId: 'office-browser' }),
    ],
    ['starter', starter],
  ] as const)('%s', (_, make) => {
    const { moments, answers } = compare(make(), 150)
    expect(moments).toBeGreaterThan(10)
    expect(answers).toBeGreaterThan(3)
  })
  it.skipIf(!can).each(['switched', 'pulsed', 'held', 'opposed', 'level'] as const)(
    '%s, in designs of any shape',
    kind => {
      for (const design of shapes([kind])) compare(design, 200)
    },
  )
  const none = ['nothing', { kind: 'none' }] as const
  const counter = ['a counter', { kind: 'counter', tagBytes: 8, window: 4 }] as const
  const text = [
    none,
    ['a PIN', { kind: 'pin', digits: 6 }],
    ['a word', { kind: 'word' }],
    counter,
  ] as const
  /**
   * Each dialect, and in lines all that it has room for: the engine is held against all of them
   * together elsewhere (tests/unit/engine).
   */
  const proofs = {
    codes: [none],
    lines: text,
    crlf: [text[1]],
    pairs: [text[2]],
    json: [counter],
    slip: [none, counter],
    cobs: [counter],
    length: [none],
  } as const
  it('every dialect is among them', () =>
    expect(Object.keys(proofs).toSorted()).toEqual(Object.keys(DIALECTS).toSorted()))
  it
    .skipIf(!can)
    .each(
      Object.entries(proofs).flatMap(([dialect, auths]) =>
        auths.map(([name, auth]) => [dialect, name, auth] as const),
      ),
    )('in %s, proved by %s, with timers, times, relative codes and a scene', (dialect, _, auth) => {
    for (const plain of shapes(['switched', 'switched', 'level'])) {
      const open = crowded(plain, dialect)
      const says = structureOn(open.links[0]!) ? {} : { errorText: 'no' }
      compare(
        auth.kind === 'none'
          ? open
          : edited(open, { type: 'setLink', linkId: 'link', patch: { auth, ...says } }),
        auth.kind === 'counter' ? 500 : 250,
      )
    }
  })
  const signed = (design: Design) =>
    edited(design, { type: 'setLink', linkId: 'link', patch: { auth: counter[1] } })
  it.skipIf(!can)('a sum that runs over in 16 bits only is caught', () => {
    const design = signed(crowded(shapes(['switched'])[0]!, 'lines'))
    const spoilt = programFolder(design, 'program').map(f => ({
      ...f,
      text: f.text.replace('const uint32_t t1', 'const unsigned t1'),
    }))
    expect(spoilt.some(f => f.text.includes('const unsigned t1'))).toBe(true)
    expect(() => compare(design, 500, 10, spoilt, false)).toThrow('Property failed')
  })
})
