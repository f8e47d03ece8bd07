import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { carriedLink } from '../../../../core/sides/carried-link'
import { frontWire } from '../../../../core/sides/front-wire'
import { sketch } from '../../../../core/sides/sketch'
import { scenariosIn, type Scenario } from '../../../../core/controller/scenario'
import { sketchLacks } from '../../../../core/sides/sketch-lacks'
import type { Level } from '../../../../core/controller/step'
import type { Design } from '../../../../core/design/schema'
import { startsTimers, withTime } from '../../../../core/messages/times'
import { fullOf, linesOf, restOf } from '../../../../core/design/values'
import { endOf, wireOf } from '../../../../core/design/wire'
import { practiceSecret, sealedText } from '../../../../core/messages/sealing'
import { sceneCode } from '../../../../core/messages/assign'
import { kindEdit } from '../../../../core/messages/kinds'
import {
  askingTimers,
  crowded,
  DIALECTS,
  smallDesigns,
  speaking,
  edited,
  over,
  fanDesign,
  glazeRoom,
  starter,
  valid,
} from '../../../fixtures/designs'
import { AvrToolchain } from '../../../fixtures/avr-board/toolchain'
import {
  HostBoard,
  playStep,
  run,
  type Line,
  type TimedLine,
} from '../../../fixtures/host-board/run'
import { avrTools, canRun, has } from '../../../fixtures/tools'

const nasty = () =>
  edited(
    glazeRoom(),
    { type: 'renameLoad', loadId: 'rinse-pump', name: '"Pump" */ ??/ \\' },
    {
      type: 'assignCodes',
      linkId: 'apron-link',
      codes: { 'rinse-pump': { on: '"\\n%s', off: '??/"' } },
    },
    { type: 'renameSurface', surfaceId: 'apron-phone', name: 'Küche 照明 \\' },
    { type: 'renameDesign', name: 'Design \\' },
  )

/**
 * Lines for a design: presses that bounce, codes and half codes, link up and down, cuts and starts.
 * The first starts the board.
 */
function anyLines(design: Design): fc.Arbitrary<TimedLine[]> {
  const inputs = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls.map(c => c.pin) : []))
  const serial = carriedLink(design)
  const codes = serial
    ? [
        ...[
          ...serial.messages.flatMap(m => Object.values(m.codes)),
          serial.askCode,
          serial.helloCode,
          ...Object.values(serial.scenes),
          ...(startsTimers(serial)
            ? serial.messages.flatMap(m =>
                [m.codes.for, m.codes.after, m.codes.blink].flatMap(c =>
                  c ? [120, 20, 70_000].map(ms => withTime(serial, c, ms)) : [],
                ),
              )
            : []),
        ].flatMap(c => [
          wireOf(serial, c, 'command'),
          wireOf(serial, c, 'command'),
          wireOf(serial, c, 'command').slice(0, -1),
          wireOf(serial, c, 'command').slice(1),
        ]),
        'x',
        '1',
        '+',
        ' ',
        endOf(serial),
        '{"ask" : 1}\n',
      ].filter(Boolean)
    : ['x']
  const status =
    serial?.kind === 'bluetooth-serial' && serial.statusPin !== null ? [serial.statusPin] : []
  const level = fc.constantFrom<Level>(0, 1)
  const line: fc.Arbitrary<Line> = fc.oneof(
    {
      weight: 6,
      arbitrary: fc.record({
        do: fc.constant('pin' as const),
        pin: fc.constantFrom(...inputs),
        level,
      }),
    },
    {
      weight: 5,
      arbitrary: fc.record({
        do: fc.constant('rx' as const),
        text: fc
          .array(fc.constantFrom(...codes), { minLength: 1, maxLength: 4 })
          .map(c => c.join('')),
      }),
    },
    ...(status.length
      ? [
          {
            weight: 3,
            arbitrary: fc.record({
              do: fc.constant('pin' as const),
              pin: fc.constantFrom(...status),
              level,
            }),
          },
        ]
      : []),
    { weight: 1, arbitrary: fc.constantFrom<Line>({ do: 'boot' }, { do: 'off' }) },
    { weight: 2, arbitrary: fc.constant<Line>({ do: 'go' }) },
  )
  // Times at which something falls due, and their neighbours, beside any.
  const gap = fc.oneof(
    fc.constantFrom(
      ...[30, 120, 250, 270, 300, 350, 400, 700, 2000].flatMap(ms => [ms - 1, ms, ms + 1]),
    ),
    fc.nat({ max: 40 }),
    fc.nat({ max: 400 }),
    fc.nat({ max: 2600 }),
  )
  return fc
    .record({
      start: fc.constantFrom(0, 2 ** 32 - 3000),
      lines: fc.array(fc.tuple(gap, line), { maxLength: 60 }),
    })
    .map(({ start, lines }) => {
      let t = start
      const offLine: Line[] = status.map(pin => ({ do: 'pin', pin, level: 0 }))
      // A module without power is not connected: its line goes low with the board's power.
      const all = [
        ...offLine.map(l => [0, l] as const),
        [0, { do: 'boot' } as Line] as const,
        ...lines.flatMap(([g, l]) =>
          l.do === 'off' || l.do === 'boot'
            ? [[g, offLine[0] ?? { do: 'go' }] as const, [0, l] as const]
            : [[g, l] as const],
        ),
      ]
      return all.map(([g, l]) => ({ ...l, t: (t += g) }))
    })
}

describe('the sketch against step(), event by event', () => {
  const can = canRun('Running sketches on this machine', { 'g++': has('g++') })
  let board: HostBoard
  beforeAll(() => {
    if (can) board = new HostBoard()
  })
  afterAll(() => board?.dispose())

  const compare = (design: Design, scripts: number) => {
    const program = board.compile(design)
    fc.assert(
      fc.property(anyLines(design), lines => {
        expect(board.play(program, design, lines).map(l => l.trimEnd())).toEqual(
          playStep(design, lines),
        )
      }),
      { numRuns: scripts },
    )
  }
  it.skipIf(!can).each([
    ['glaze room', glazeRoom],
    ['starter', starter],
    ['nasty names', nasty],
  ] as const)('%s: the same pins and bytes', (_, make) => compare(make(), 60))
  it.skipIf(!can)('any small design', () => {
    const shapes = smallDesigns([
      ...(['switched', 'switched', 'switched', 'pulsed', 'held', 'opposed', 'level'] as const),
      'follower',
    ])
    for (const design of fc.sample(shapes, { numRuns: 10, seed: 7 })) compare(design, 12)
  })
  it.skipIf(!can).each(['pulsed', 'held', 'opposed', 'level', 'follower'] as const)(
    '%s: in two designs of any shape',
    kind => {
      for (const design of fc.sample(smallDesigns([kind]), { numRuns: 2, seed: 11 }))
        compare(design, 25)
    },
  )
  it.skipIf(!can).each(Object.keys(DIALECTS))(
    'in the dialect %s: designs of any shape, with whole, half and spoilt messages',
    name => {
      for (const design of fc.sample(
        smallDesigns(['switched', 'level', 'opposed', 'follower']).filter(d =>
          d.links.some(l => l.kind === 'bluetooth-serial'),
        ),
        { numRuns: 2, seed: 23 },
      ))
        compare(speaking(design, DIALECTS[name]!), 30)
    },
  )
  it.skipIf(!can).each(['lines', 'json'])(
    'in %s: who is there, errors, and scenes over Bluetooth and over a wire on ordinary pins',
    name => {
      for (const design of fc.sample(
        smallDesigns(['switched', 'level']).filter(
          d => d.loads.length === 2 && d.links.some(l => l.kind === 'bluetooth-serial'),
        ),
        { numRuns: 2, seed: 31 },
      )) {
        const sets = design.loads.map(l => ({ loadId: l.id, value: restOf(l.output) }))
        const speaks = edited(
          speaking(design, DIALECTS[name]!),
          {
            type: 'setLink',
            linkId: 'link',
            patch: {
              helloCode: name === 'json' ? '{"hello":1}' : 'who is there',
              errorText: 'what',
            },
          },
          { type: 'addScene', name: 'All off', sets },
          {
            type: 'addScene',
            name: 'Last',
            sets: [{ loadId: 'two', value: fullOf(design.loads[1]!.output) }],
          },
        )
        const [first, last] = speaks.scenes
        const scenes = edited(
          speaks,
          {
            type: 'setSceneCode',
            linkId: 'link',
            sceneId: 'all-off',
            code: sceneCode(speaks, speaks.links[0]!, first!),
          },
          {
            type: 'setSceneCode',
            linkId: 'link',
            sceneId: 'last',
            code: sceneCode(speaks, speaks.links[0]!, last!),
          },
        )
        compare(scenes, 25)
        compare(over(scenes, 'wire'), 15)
      }
    },
  )
  it.skipIf(!can).each(['codes', 'lines', 'json', 'slip'])(
    'timers asked for in %s: after, for and blink, with times of their own where there is room',
    name => {
      for (const plain of fc.sample(
        smallDesigns(['switched']).filter(
          d =>
            d.links.some(l => l.kind === 'bluetooth-serial')
            && d.loads.some(l => l.output.kind === 'switched' && l.output.timers),
        ),
        { numRuns: 3, seed: 43 },
      )) {
        compare(askingTimers(speaking(plain, DIALECTS[name]!)), 40)
      }
    },
  )
  it.skipIf(!can).each([
    ['a counter, lines', 'lines', { kind: 'counter', tagBytes: 8, window: 4 }],
    ['a counter, JSON', 'json', { kind: 'counter', tagBytes: 32, window: 31 }],
    ['a word', 'pairs', { kind: 'word' }],
    ['a PIN in JSON', 'json', { kind: 'pin', digits: 6 }],
  ] as const)(
    'commands with a proof: %s, right, spoilt, late and played again, over starts and cuts',
    (_, dialect, auth) => {
      for (const plain of fc.sample(
        smallDesigns(['switched', 'level']).filter(d =>
          d.links.some(l => l.kind === 'bluetooth-serial'),
        ),
        { numRuns: 2, seed: 41 },
      )) {
        const design = edited(speaking(plain, DIALECTS[dialect]!), {
          type: 'setLink',
          linkId: 'link',
          patch: { auth, errorText: 'no' },
        })
        const link = design.links[0]!
        const codes = link.messages.flatMap(m => Object.values(m.codes))
        const program = board.compile(design)
        // A module without power is not connected: its line is low around each start.
        const status = (t: number, level: Level): TimedLine[] =>
          link.kind === 'bluetooth-serial' && link.statusPin !== null
            ? [{ do: 'pin', t, pin: link.statusPin, level }]
            : []
        const start = (t: number): TimedLine[] => [
          ...status(t, 0),
          { do: 'boot', t },
          ...status(t + 1, 1),
        ]
        const texts = fc
          .record({
            code: fc.constantFrom(...codes),
            counter: fc.oneof(
              fc.integer({ min: 1, max: 40 }),
              fc.constantFrom(0xffffffff, 4_000_000_000),
            ),
            secret: fc.constantFrom(practiceSecret(link), practiceSecret(link), 'other'),
            cut: fc.oneof(
              { weight: 6, arbitrary: fc.constant(0) },
              { weight: 1, arbitrary: fc.nat({ max: 20 }) },
            ),
          })
          .map(({ code, counter, secret, cut }) =>
            sealedText(link, code, { secret, counter }).slice(cut),
          )
        fc.assert(
          fc.property(
            fc.array(
              fc.oneof(
                { weight: 8, arbitrary: texts },
                {
                  weight: 1,
                  arbitrary: fc.constantFrom(...codes).map(c => wireOf(link, c, 'command')),
                },
                {
                  weight: 1,
                  arbitrary: fc.constantFrom(
                    'restart',
                    wireOf(link, link.kind === 'http' ? '' : link.askCode, 'command'),
                  ),
                },
              ),
              { maxLength: 24 },
            ),
            heard => {
              const lines = [
                ...start(0),
                ...heard.flatMap((text, i): TimedLine[] =>
                  text === 'restart' ? start(10 * i + 10) : [{ do: 'rx', t: 10 * i + 10, text }],
                ),
              ]
              expect(board.play(program, design, lines).map(l => l.trimEnd())).toEqual(
                playStep(design, lines),
              )
            },
          ),
          { numRuns: 40 },
        )
      }
    },
  )
  it.skipIf(!can).each(
    (['lines', 'pairs', 'json', 'crlf'] as const).flatMap(dialect =>
      (
        [
          ['a PIN', { kind: 'pin', digits: 6 }],
          ['a word', { kind: 'word' }],
          ['a counter', { kind: 'counter', tagBytes: 8, window: 4 }],
        ] as const
      ).map(([name, auth]) => [name, dialect, auth] as const),
    ),
  )(
    '%s in %s, crossed with timers, times, relative codes, scenes and presses: what is refused leaves no trace',
    (_, dialect, auth) => {
      const shapes = smallDesigns(['switched', 'level']).filter(
        d =>
          d.links.some(l => l.kind === 'bluetooth-serial')
          && d.loads[0]!.output.kind === 'switched'
          && d.loads[0]!.output.timers !== null
          && d.surfaces.some(s => s.kind === 'hand' && s.controls[0]?.kind === 'push'),
      )
      for (const plain of fc.sample(shapes, { numRuns: 1, seed: 53 })) {
        const design = edited(crowded(plain, dialect), {
          type: 'setLink',
          linkId: 'link',
          patch: { auth, errorText: 'no', statusPin: null },
        })
        const link = design.links[0]!
        const program = board.compile(design)
        const [control] = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))
        const codes = [
          ...link.messages.flatMap(m => Object.values(m.codes)),
          ...Object.values(link.scenes),
        ].filter(Boolean)
        const times = link.messages.flatMap(m =>
          [m.codes.for, m.codes.after, m.codes.blink].flatMap(c =>
            c ? [120, 9000, 12_343].map(ms => withTime(link, c, ms)) : [],
          ),
        )
        let counter = 0
        const secret = practiceSecret(link)
        const said = fc.record({
          code: fc.constantFrom(...codes, ...times, ...times),
          how: fc.constantFrom('right', 'right', 'bare', 'wrong', 'spoilt', 'again'),
        })
        let last = ''
        const textOf = ({ code, how }: { code: string; how: string }): string => {
          if (how === 'again') return last
          const text =
            how === 'bare'
              ? wireOf(link, code, 'command')
              : sealedText(link, code, {
                  secret: how === 'wrong' ? '543210' : secret,
                  counter: ++counter,
                })
          return (last = how === 'spoilt' ? text.replace(/[0-9a-f]/, 'x') : text)
        }
        const press = (t: number): TimedLine[] =>
          control
            ? [
                { t, do: 'pin', pin: control.pin, level: 0 },
                { t: t + 60, do: 'pin', pin: control.pin, level: 1 },
              ]
            : []
        fc.assert(
          fc.property(
            fc.array(
              fc.oneof(
                { weight: 5, arbitrary: said },
                { weight: 2, arbitrary: fc.constant('press' as const) },
                { weight: 1, arbitrary: fc.constant('restart' as const) },
              ),
              { maxLength: 20 },
            ),
            things => {
              counter = 0
              last = ''
              const lines = [
                { t: 0, do: 'boot' } as TimedLine,
                ...things.flatMap((thing, i): TimedLine[] =>
                  thing === 'press'
                    ? press(400 * i + 400)
                    : thing === 'restart'
                      ? [{ t: 400 * i + 400, do: 'boot' }]
                      : [{ t: 400 * i + 400, do: 'rx', text: textOf(thing) }],
                ),
                { t: 30_000, do: 'go' } as TimedLine,
              ]
              expect(board.play(program, design, lines).map(l => l.trimEnd())).toEqual(
                playStep(design, lines),
              )
            },
          ),
          { numRuns: 40 },
        )
      }
    },
  )
  it.skipIf(!can).each(['hw-pin-json-time', 'hw-pin-lines-time', 'hw-pin-pairs-time'])(
    '%s: a PIN is no time, and a refused command sets none',
    name => {
      const design = valid(
        (
          JSON.parse(readFileSync(`tests/fixtures/cases/${name}.json`, 'utf8')) as {
            design: unknown
          }
        ).design,
      )
      const [link] = design.links
      const [control] = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))
      const code = link!.messages[0]!.codes.for!
      const program = board.compile(design)
      const press: TimedLine[] = [
        { t: 3000, do: 'pin', pin: control!.pin, level: 0 },
        { t: 3100, do: 'pin', pin: control!.pin, level: 1 },
      ]
      for (const text of [
        sealedText(link!, code, { secret: practiceSecret(link!), counter: 0 }),
        wireOf(link!, withTime(link!, code, 9000), 'command'),
        sealedText(link!, withTime(link!, code, 9000), { secret: '999999', counter: 0 }),
      ]) {
        const lines: TimedLine[] = [
          { t: 0, do: 'boot' },
          { t: 1000, do: 'rx', text },
          { t: 1900, do: 'go' },
          { t: 2100, do: 'go' },
          ...press,
          { t: 4000, do: 'go' },
          { t: 4100, do: 'go' },
          { t: 13_000, do: 'go' },
        ]
        expect(board.play(program, design, lines).map(l => l.trimEnd())).toEqual(
          playStep(design, lines),
        )
      }
    },
  )
  it.skipIf(!can)('more than 255 codes are carried', () => {
    const plain = edited(speaking(fanDesign(), DIALECTS.lines!), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { statusPin: null },
    })
    const stops = Array.from({ length: 21 }, (_, i) => 5 * i)
    const loads = Array.from({ length: 13 }, (_, i) => ({
      ...plain.loads[0]!,
      id: `lamp-${i}`,
      name: `Lamp ${i}`,
      output: {
        kind: 'level' as const,
        pin: 3 + i,
        activeLevel: 'high' as const,
        drive: 'pwm' as const,
        powerUp: 'off' as const,
        saveDelayMs: 0,
        stops,
        step: null,
        rampMs: 0,
        minimum: 0,
        below: 'off' as const,
      },
    }))
    const messages = loads.map(({ id }) => ({
      loadId: id,
      ack: true,
      change: true,
      codes: Object.fromEntries(stops.map(v => [String(v), `${id} = ${v}`])),
    }))
    const design = valid({
      ...plain,
      loads,
      surfaces: plain.surfaces.map(s =>
        s.kind === 'hand'
          ? { ...s, controls: s.controls.map(c => ({ ...c, loadId: 'lamp-0', asks: 'next' })) }
          : { ...s, keys: [] },
      ),
      links: plain.links.map(l => ({ ...l, messages })),
    })
    const link = design.links[0]!
    const codes = link.messages.flatMap(m => Object.values(m.codes))
    expect(codes.length).toBeGreaterThan(255)
    const program = board.compile(design)
    const lines: TimedLine[] = [
      { t: 0, do: 'boot' },
      ...[codes.at(-1)!, codes[200]!, codes.at(-2)!, codes[0]!, codes[257]!].map(
        (c, i): TimedLine => ({ t: 500 * i + 500, do: 'rx', text: wireOf(link, c, 'command') }),
      ),
      { t: 9000, do: 'rx', text: '?\n' },
      { t: 60_000, do: 'go' },
    ]
    expect(board.play(program, design, lines).map(l => l.trimEnd())).toEqual(
      playStep(design, lines),
    )
  })
  it.skipIf(!can)('behind a board in front it has the codes of the wire', () => {
    const networked = edited(
      edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' }),
      { type: 'setFront', front: {} },
      { type: 'addPanel', name: 'Browser', over: 'http' },
      {
        type: 'addMessage',
        linkId: 'browser-link',
        loadId: 'fan',
        codes: { on: '/fan/on', off: '/fan/off', toggle: '/fan/toggle' },
      },
    )
    const wire = frontWire(networked)!
    expect([wire.baud, wire.receivePin, wire.sendPin]).toEqual([
      networked.front!.baud,
      networked.front!.receivePin,
      networked.front!.sendPin,
    ])
    expect(sketch(networked)).not.toContain('No serial link')
    expect(sketchLacks(networked)).toEqual([])
    // The same program as of a design whose only link is that wire.
    const plain: Design = {
      ...networked,
      front: null,
      links: [wire],
      surfaces: networked.surfaces.filter(s => s.kind === 'hand'),
    }
    const program = board.compile(networked)
    const lines: TimedLine[] = [
      { t: 0, do: 'boot' },
      ...['on', 'toggle', 'toggle', 'off'].map((value, i): TimedLine => ({
        t: 500 + 500 * i,
        do: 'rx',
        text: wireOf(wire, wire.messages[0]!.codes[value]!, 'command'),
      })),
      { t: 4000, do: 'rx', text: '?\n' },
      { t: 5000, do: 'go' },
    ]
    const heard = board.play(program, plain, lines).map(l => l.trimEnd())
    expect(heard).toEqual(playStep(plain, lines))
    expect(heard.filter(l => l.includes(' ')).length).toBeGreaterThan(3)
  })
  it.skipIf(!can)('without a secret it does not build, and says what to do', () => {
    const design = edited(speaking(fanDesign(), DIALECTS.lines!), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { auth: { kind: 'word' } },
    })
    const source = join(board.folder, 'guarded.cpp')
    writeFileSync(source, sketch(design))
    expect(() =>
      run('g++', ['-std=gnu++11', '-I', 'tests/fixtures/host-board', '-fsyntax-only', source]),
    ).toThrow(/secrets\.h/)
    expect(() =>
      run('g++', [
        '-std=gnu++11',
        '-DPRACTICE',
        '-Werror=cpp',
        '-I',
        'tests/fixtures/host-board',
        '-fsyntax-only',
        source,
      ]),
    ).toThrow(/PRACTICE BUILD/)
  })
  it.skipIf(!can)('gestures: in designs whose buttons know several', () => {
    const arbitrary = smallDesigns(['switched', 'level', 'opposed']).filter(d =>
      d.surfaces.some(
        s => s.kind === 'hand' && s.controls.some(c => c.kind === 'push' && c.gestures.length > 1),
      ),
    )
    for (const design of fc.sample(arbitrary, { numRuns: 4, seed: 5 })) compare(design, 40)
  })
  it.skipIf(!can)('to the millisecond: a second press, a hold, and bounces at their edges', () => {
    const design = edited(
      fanDesign(),
      { type: 'addLoad', name: 'Lamp' },
      {
        type: 'setControl',
        controlId: 'fan-button',
        patch: {
          lockoutMs: 0,
          gestures: [
            { on: 'double', loadId: 'lamp', asks: 'toggle' },
            { on: 'hold', loadId: 'lamp', asks: 'off' },
          ],
        },
      },
    )
    const { pin: chip } = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))[0]!
    const program = board.compile(design)
    const pin = (t: number, level: Level): TimedLine => ({ do: 'pin', t, pin: chip, level })
    const status = design.links.flatMap(l =>
      l.kind === 'bluetooth-serial' ? (l.statusPin ?? []) : [],
    )[0]!
    const start: TimedLine[] = [
      { do: 'pin', t: 0, pin: status, level: 0 },
      { do: 'boot', t: 0 },
    ]
    const scripts: TimedLine[][] = []
    // The second press begins around 350 ms after the first; the hold ends around 700 ms, once with
    // a bounce.
    for (let ms = 345; ms <= 355; ms++)
      scripts.push([
        ...start,
        pin(100, 0),
        pin(200, 1),
        pin(100 + ms, 0),
        pin(600, 1),
        { do: 'go', t: 1600 },
      ])
    for (let ms = 660; ms <= 735; ms += 5)
      scripts.push(
        [...start, pin(100, 0), pin(100 + ms, 1), { do: 'go', t: 1600 }],
        [
          ...start,
          pin(100, 0),
          pin(100 + ms, 1),
          pin(110 + ms, 0),
          { do: 'go', t: 1600 },
          pin(1700, 1),
          { do: 'go', t: 2600 },
        ],
      )
    for (const script of scripts)
      expect(board.play(program, design, script).map(l => l.trimEnd())).toEqual(
        playStep(design, script),
      )
  })
  it.skipIf(!can)('to the millisecond: lock-out, save delay, half codes across a lost link', () => {
    const design = edited(
      fanDesign(),
      { type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last', saveDelayMs: 400 } },
      { type: 'assignCodes', linkId: 'phone-link', codes: { fan: { on: '11', off: '12' } } },
    )
    const control = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))[0]!
    const status = design.links.flatMap(l =>
      l.kind === 'bluetooth-serial' ? (l.statusPin ?? []) : [],
    )[0]!
    const program = board.compile(design)
    const pin = (t: number, level: Level): TimedLine => ({ do: 'pin', t, pin: control.pin, level })
    const link = (t: number, level: Level): TimedLine => ({ do: 'pin', t, pin: status, level })
    const rx = (t: number, text: string): TimedLine => ({ do: 'rx', t, text })
    const start: TimedLine[] = [link(0, 0), { do: 'boot', t: 0 }]
    const scripts: TimedLine[][] = []
    for (let second = 290; second <= 340; second++)
      scripts.push([
        ...start,
        pin(100, 0),
        pin(180, 1),
        pin(100 + second, 0),
        { do: 'go', t: 1000 },
      ])
    for (let cut = 398; cut <= 402; cut++)
      scripts.push([
        ...start,
        rx(100, '11'),
        link(100 + cut, 0),
        { do: 'off', t: 100 + cut },
        { do: 'boot', t: 900 },
        { do: 'go', t: 1000 },
      ])
    scripts.push([
      ...start,
      link(10, 1),
      rx(20, '1'),
      link(30, 0),
      link(40, 1),
      rx(50, '1'),
      rx(60, '2'),
    ])
    scripts.push([...start, link(10, 1), rx(20, '1'), rx(21, '2'), rx(22, '1x11'), rx(23, '?')])
    for (const script of scripts)
      expect(board.play(program, design, script).map(l => l.trimEnd())).toEqual(
        playStep(design, script),
      )
  })
  it.skipIf(!can)('a write that was cut short leaves the value before it', () => {
    const design = edited(fanDesign(), {
      type: 'setOutput',
      loadId: 'fan',
      patch: { powerUp: 'last', saveDelayMs: 0 },
    })
    const program = board.compile(design)
    const shown = (lines: TimedLine[], keep: boolean) =>
      board.play(program, design, lines, keep).at(-1)?.trim().slice(0, 1)
    const restart: TimedLine[] = [
      { do: 'boot', t: 0 },
      { do: 'go', t: 10 },
    ]
    expect(
      shown(
        [
          { do: 'boot', t: 0 },
          { do: 'rx', t: 10, text: 'F' },
          { do: 'rx', t: 20, text: 'f' },
        ],
        false,
      ),
    ).toBe('1')
    expect(shown(restart, true)).toBe('1')
    // The second value lies in the second slot of three bytes. Any of its bits spoilt: the board
    // starts with the first.
    for (let bit = 0; bit < 24; bit++) {
      const whole = readFileSync(board.memory)
      const spoilt = Buffer.from(whole)
      spoilt[3 + (bit >> 3)]! ^= 1 << (bit & 7)
      writeFileSync(board.memory, spoilt)
      expect(shown(restart, true), `bit ${bit}`).toBe('0')
      writeFileSync(board.memory, whole)
    }
  })
})

describe('the sketch for the 8-bit 5 V board', () => {
  const can = canRun('Compiling sketches for the board', avrTools())
  let tools: AvrToolchain
  beforeAll(() => {
    if (can) tools = new AvrToolchain()
  })
  afterAll(() => tools?.dispose())

  const full = () => {
    let design = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { baud: 115200 },
    })
    for (let i = 0; i < 14; i++)
      design = edited(
        design,
        { type: 'addLoad', name: `Lamp ${i}` },
        {
          type: 'addMessage',
          linkId: 'phone-link',
          loadId: `lamp-${i}`,
          codes: {
            on: `${String.fromCharCode(103 + i)}1`,
            off: `${String.fromCharCode(103 + i)}0`,
          },
        },
      )
    return design
  }
  const everyKind = () =>
    (['pulsed', 'held', 'opposed', 'level', 'follower'] as const).reduce((design, kind) => {
      const added = edited(
        design,
        { type: 'addLoad', name: kind },
        {
          type: 'addMessage',
          linkId: 'phone-link',
          loadId: kind,
          codes: { on: kind.toUpperCase(), off: kind },
        },
      )
      return edited(added, kindEdit(added, kind, kind))
    }, fanDesign())
  it.skipIf(!can).each([
    ['glaze room', glazeRoom],
    ['starter', starter],
    ['nasty names', nasty],
    ['fifteen loads', full],
    ['lines of text', () => speaking(glazeRoom(), DIALECTS.lines!)],
    ['JSON', () => speaking(glazeRoom(), DIALECTS.json!)],
    ['structures with a CRC', () => speaking(glazeRoom(), DIALECTS.cobs!)],
    [
      'a wire on ordinary pins, with who is there and errors',
      () =>
        over(
          edited(speaking(glazeRoom(), DIALECTS.lines!), {
            type: 'setLink',
            linkId: 'apron-link',
            patch: { helloCode: 'hello', errorText: 'what' },
          }),
          'wire',
        ),
    ],
    [
      'signed lines',
      () =>
        edited(speaking(glazeRoom(), DIALECTS.lines!), {
          type: 'setLink',
          linkId: 'apron-link',
          patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 } },
        }),
    ],
    [
      'timers with times',
      () =>
        edited(
          speaking(glazeRoom(), DIALECTS.lines!),
          {
            type: 'setOutput',
            loadId: 'rinse-pump',
            patch: { timers: { onDelayMs: 5000, offDelayMs: 180_000, blinkMs: 500 } },
          },
          {
            type: 'renameCode',
            linkId: 'apron-link',
            loadId: 'rinse-pump',
            which: 'for',
            code: 'rinse for',
          },
        ),
    ],
    ['a load of each kind', everyKind],
    ['no Bluetooth link', () => edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' })],
  ] as const)('%s compiles without a warning and fits', (_, make) => {
    const { flash, ram } = tools.build(sketch(make()))
    console.info(`${make().name}: ${flash} bytes of flash, ${ram} bytes of RAM`)
    expect(flash).toBeLessThan(32_256)
    expect(ram).toBeLessThan(1_500)
  })
})

/**
 * Scenarios that a program for one serial link can be run against: no sensors, nothing that it does
 * not do yet.
 */
const forSketch = (s: Scenario) =>
  s.design.links.every(l => l.kind === 'wire' || l.kind === 'bluetooth-serial')
  && s.design.links.length <= 1
  && !s.design.sensors.length
  && !sketchLacks(s.design).length
  && s.writeMs === 0
  // The board counts through every millisecond: half a turn of the clock takes too long.
  && s.given.every((g, i) => i < 2 || g.t - (s.given[i - 1]?.t ?? 0) < 100_000)
  && s.design.loads.every(l => l.output.kind !== 'opposed' || l.output.drive !== 'stepper')
  && s.given.every(g =>
    ['boot', 'powerOff', 'pin', 'linkUp', 'linkDown', 'received'].includes(g.event.kind),
  )

describe('the sketch against the conformance scenarios', () => {
  const can = canRun('Running sketches on this machine', { 'g++': has('g++') })
  let board: HostBoard
  const programs = new Map<string, string>()
  beforeAll(() => {
    if (can) board = new HostBoard(false)
  })
  afterAll(() => board?.dispose())

  const scenarios = readdirSync('conformance')
    .filter(f => f.endsWith('.txt') && f !== 'surfaces.txt')
    .flatMap(f => scenariosIn(readFileSync(`conformance/${f}`, 'utf8'), f))
    .filter(forSketch)
  it('many of them are for it', () => expect(scenarios.length).toBeGreaterThan(70))
  it.runIf(can).each(scenarios.map(s => [`${s.file}: ${s.title}`, s] as const))(
    '%s',
    (_, scenario) => {
      const { design, given, expected } = scenario
      const code = sketch(design)
      const program = programs.get(code) ?? board.compile(design)
      programs.set(code, program)
      const controls = design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))
      const [link] = design.links
      const status = link?.kind === 'bluetooth-serial' ? link.statusPin : null
      // The board counts every millisecond: it is started a second before anything happens.
      const events = given.map(g => ({ ...g }))
      const later = events.filter(g => g.event.kind !== 'boot').map(g => g.t)
      const shift = Math.max(
        0,
        Math.min(...later, Infinity) === Infinity ? 0 : Math.min(...later) - 1000,
      )
      const boots = events.filter(g => g.event.kind === 'boot')
      if (shift && boots.length === 1 && boots[0]) boots[0].t = Math.max(boots[0].t, shift)
      const lineOf = ({ t, event }: Scenario['given'][number]): TimedLine[] => {
        switch (event.kind) {
          case 'boot':
            return [{ t, do: 'boot' }]
          case 'powerOff':
            return [
              ...(status === null
                ? []
                : [{ t, do: 'pin' as const, pin: status, level: 0 as Level }]),
              { t, do: 'off' },
            ]
          case 'pin':
            return [{ t, do: 'pin', pin: controls[event.input]!.pin, level: event.level }]
          case 'linkUp':
          case 'linkDown':
            return status === null
              ? []
              : [{ t, do: 'pin', pin: status, level: event.kind === 'linkUp' ? 1 : 0 }]
          case 'received':
            return [{ t, do: 'rx', text: event.text }]
          default:
            return []
        }
      }
      const told = expected
        .map(line => line.split(' '))
        .map(([at, ...words]) => ({ t: Math.max(Number(at), boots[0]?.t ?? 0), words }))
      const moments = [
        ...new Set([...events.map(e => e.t), ...told.flatMap(e => [e.t - 1, e.t]), scenario.endMs]),
      ]
        .filter(t => t >= (events[0]?.t ?? 0))
        .sort((a, b) => a - b)
      const lines: TimedLine[] =
        status === null ? [] : [{ t: events[0]?.t ?? 0, do: 'pin', pin: status, level: 0 }]
      const ends: number[] = []
      for (const t of moments) {
        lines.push(...events.filter(e => e.t === t).flatMap(lineOf), { t, do: 'go' })
        ends.push(lines.length - 1)
      }
      const heard = board.play(program, design, lines)
      let sent = ''
      let from = 0
      const names = design.loads.flatMap(l =>
        linesOf(l.output).map(line => ({
          load: l.id,
          line: line.name ? line.name.replaceAll(' ', '-') : 'pin',
        })),
      )
      moments.forEach((t, i) => {
        const end = ends[i]!
        for (; from <= end; from++)
          sent += Buffer.from(heard[from]!.split(' ')[1] ?? '', 'hex').toString('latin1')
        const powered =
          events
            .filter(e => e.t <= t && (e.event.kind === 'boot' || e.event.kind === 'powerOff'))
            .at(-1)?.event.kind === 'boot'
        const levels = names.map(
          n =>
            told.filter(x => x.t <= t && x.words[0] === n.load && x.words[1] === n.line).at(-1)
              ?.words[2],
        )
        if (powered)
          expect([t, heard[end]!.split(' ')[0]]).toEqual([
            t,
            levels.map(l => (l === 'high' ? 1 : l === 'low' ? 0 : l)).join(','),
          ])
        const texts = told
          .filter(x => x.t <= t && x.words[0] === link?.id)
          .map(x => x.words.slice(1).join(' ').replaceAll('\\n', '\n'))
          .join('')
        expect([t, sent]).toEqual([t, texts])
      })
    },
  )
})
