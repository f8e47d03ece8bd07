/**
 * The emulated board beside the bench: machine code of the ready-made program does what the
 * controller of the bench does, in busy minutes, stories, drills and with every kind of sensor; and
 * what is wrong with it is found.
 */
import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import { busySteps } from '../../../../core/bench/busy'
import { drillsFor } from '../../../../core/bench/drills'
import type { Action, BenchScript } from '../../../../core/bench/script'
import type { Edit } from '../../../../core/design/edits/edits'
import { parts } from '../../../../core/design/part'
import type { Design } from '../../../../core/design/schema'
import { BesideBoard } from '../../../../core/emulated/beside'
import { LinePair, SaidPair } from '../../../../core/emulated/compare'
import { listenerOf, type Heard } from '../../../../core/emulated/happens'
import { drivenShares, linesWords } from '../../../../core/emulated/shows'
import { Proof } from '../../../../core/proof/prove'
import { DEFAULT_BOUNDS } from '../../../../core/proof/bounds'
import { imageFit } from '../../../../core/sides/program/image-fit'
import { IMAGE_ROOMS } from '../../../../core/sides/program/image-rooms'
import { IMAGES } from '../../../../core/sides/program/image-sizes'
import { practiceSecrets, programImage } from '../../../../core/sides/program/image'
import {
  DIALECTS,
  edited,
  fanDesign,
  fanRule,
  glazeRoom,
  over,
  showroom,
  speaking,
  starter,
} from '../../../fixtures/designs'

const imageOf = (part: Design) => programImage(part, practiceSecrets(part)) as Uint8Array

/** A script on the bench, and on a board with the image of the part or another one. */
function beside(part: Design, script: BenchScript, image = imageOf(part)): BesideBoard {
  const heard: Heard = { happens: [], does: [] }
  const listen = listenerOf(part)
  const bench = new Bench(part, script.seed, script.fates, true, (event, effects) => {
    const { happens, does } = listen(event, effects)
    heard.happens.push(...happens)
    heard.does.push(...does)
  })
  bench.plan(script.steps)
  const last = script.steps.reduce((most, s) => Math.max(most, s.atMs), 0)
  const until = script.untilMs ?? last + 5000
  while (!bench.advance(until)) {
    /* on */
  }
  const board = new BesideBoard(part, image)
  board.feed(heard.happens, heard.does)
  expect(board.runTo(until + 4000)).toBe(true)
  return board
}
const busy = (part: Design, ms: number, seed = 1): BenchScript => ({
  seed,
  steps: busySteps(part, seed, ms),
  untilMs: ms,
})
const same = (board: BesideBoard) => expect(board.differences.map(d => d.words)).toEqual([])
const at = (...actions: [number, Action][]): BenchScript => ({
  seed: 1,
  steps: actions.map(([atMs, action]) => ({ atMs, action })),
})

describe('it does what the controller of the bench does', () => {
  const boards = (make: () => Design) =>
    parts(make()).flatMap(({ part }) => (programImage(part) ? [part] : []))
  it.each([
    ['glaze room, with a board in front', glazeRoom],
    ['starter', starter],
    ['showroom', showroom],
  ] as const)('%s: half a busy minute', (_, make) => {
    const list = boards(make)
    expect(list.length).toBeGreaterThan(0)
    for (const part of list) {
      const board = beside(part, busy(part, 30_000))
      same(board)
      expect([...board.unplayed]).toEqual([])
      const changes = part.loads.flatMap((__, load) => board.changes(load).map(x => x.length))
      expect(Math.max(...changes)).toBeGreaterThan(20)
      expect(board.texts.length).toBeGreaterThan(20)
    }
  })
  it('stories of the proof', () => {
    const part = boards(glazeRoom)[0]!
    const proof = new Proof(part, 'booth-extractor', DEFAULT_BOUNDS, {
      promises: ['P1', 'P2', 'P3', 'P4'],
    })
    while (!proof.run(5000)) {
      /* on */
    }
    const stories = proof.verdicts().flatMap(v => v.surfaces.flatMap(s => s.story ?? []))
    expect(stories.length).toBeGreaterThan(0)
    for (const story of stories) same(beside(part, story.script))
  })
  it('drills', () => {
    const part = boards(glazeRoom)[0]!
    const drills = drillsFor(part, part.loads[0]!.id, 1)
    expect(drills.length).toBeGreaterThan(3)
    for (const { script } of drills.slice(0, 3)) same(beside(part, script))
  })
})

describe('each ready-made program', () => {
  const many = (count: number) =>
    Array.from({ length: count }, (_, n) => n).reduce(
      (design, n) =>
        edited(
          design,
          { type: 'addLoad', name: `Lamp ${n}` },
          {
            type: 'addMessage',
            linkId: 'phone-link',
            loadId: `lamp-${n}`,
            codes: { on: String.fromCharCode(65 + n), off: String.fromCharCode(97 + n) },
          },
        ),
      edited(fanDesign(), {
        type: 'assignCodes',
        linkId: 'phone-link',
        codes: { fan: { on: 'Y', off: 'y' } },
      }),
    )
  const designs: Record<string, () => Design> = {
    'hands-and-links': glazeRoom,
    signed: () =>
      edited(speaking(starter(), DIALECTS.lines!), {
        type: 'setLink',
        linkId: starter().links[0]!.id,
        patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 } },
      }),
    sensing: () =>
      edited(
        fanDesign(),
        { type: 'addSensor', kind: 'battery', name: 'Sensor' },
        fanRule('above', '', 12),
      ),
    'remote-knob-and-stick': () =>
      edited(
        fanDesign(),
        { type: 'setKind', loadId: 'fan', kind: 'level' },
        { type: 'setPins', pins: { 'load:fan': 5 } },
        {
          type: 'assignCodes',
          linkId: 'phone-link',
          codes: { fan: { 0: 'a', 25: 'b', 50: 'c', 75: 'd', 100: 'e' } },
        },
        { type: 'addSensor', kind: 'knob', name: 'Knob', loadId: 'fan' },
      ),
    'motors-and-sensors': () =>
      edited(
        fanDesign(),
        { type: 'setKind', loadId: 'fan', kind: 'opposed' },
        {
          type: 'assignCodes',
          linkId: 'phone-link',
          codes: { fan: { forward: 'F', reverse: 'R', stop: 'S' } },
        },
        { type: 'addSensor', kind: 'battery', name: 'Sensor' },
      ),
    many: () => many(9),
    'numbered-and-queued': () =>
      edited(fanDesign(), { type: 'setLink', linkId: 'phone-link', patch: { queue: 4 } }),
  }
  it.each(IMAGES.map(i => i.name))('%s', name => {
    const part = parts((designs[name] as () => Design)())[0]!.part
    expect(imageFit(part)).toEqual({ name, lacks: [] })
    const board = beside(part, busy(part, 12_000, 3))
    same(board)
    expect(board.texts.length).toBeGreaterThan(3)
    expect(board.stackLeft(IMAGE_ROOMS[name]!.memory)).toBeGreaterThan(48)
  })
})

const withSensor = (kind: string, patch: object, ...more: Edit[]): Design =>
  edited(
    edited(
      fanDesign(),
      { type: 'addSensor', kind, name: 'Sensor' } as Edit,
      ...more.filter(e => e.type === 'addRule'),
    ),
    { type: 'setSensor', sensorId: 'sensor', patch } as Edit,
    ...more.filter(e => e.type !== 'addRule'),
  )
const sense = (...raw: number[]): Action => ({ do: 'sense', sensorId: 'sensor', raw })

describe('what sensors give stands on its pins', () => {
  const divided = { upperOhms: 20_000, lowerOhms: 10_000 }
  it.each([
    ['contact', { pin: 8 }, fanRule('is', 'closed', 0), sense(0), sense(1)],
    [
      'battery',
      { pin: 14, ...divided, maxVolts: 15, emptyVolts: 11 },
      fanRule('above', '', 12),
      sense(11_500),
      sense(12_500),
    ],
    [
      'thermistor',
      { pin: 15, ohmsAt25: 10_000, beta: 3950, seriesOhms: 10_000 },
      fanRule('above', '', 40),
      sense(385),
      sense(415),
    ],
    ['thermometer', { pin: 8 }, fanRule('above', '', 40), sense(390), sense(410)],
  ] as const)('%s: its rule acts on both', (kind, patch, acts, low, high) => {
    const part = withSensor(kind, patch, acts)
    const press = part.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))[0]!.id
    const board = beside(
      part,
      at(
        [1000, low],
        [6000, high],
        [12_000, low],
        [18_000, { do: 'press', controlId: press }],
        [24_000, high],
      ),
    )
    same(board)
    // Off at first, on by the rule, off by hand, on by the rule.
    expect(board.changes(0)[0]?.length).toBe(4)
  })
  it('a stepper keeps its pace while a lamp is dimmed by another timer', () => {
    const design = edited(
      fanDesign(),
      { type: 'setKind', loadId: 'fan', kind: 'opposed' },
      { type: 'setOutput', loadId: 'fan', patch: { drive: 'stepper', runLimitMs: 60_000 } } as Edit,
      { type: 'addLoad', name: 'Lamp' },
      { type: 'setKind', loadId: 'lamp', kind: 'level' },
      { type: 'setPins', pins: { 'load:lamp': 9 } },
      {
        type: 'addMessage',
        linkId: 'phone-link',
        loadId: 'lamp',
        codes: { 0: 'a', 25: 'b', 50: 'c', 75: 'd', 100: 'e' },
      },
      {
        type: 'assignCodes',
        linkId: 'phone-link',
        codes: { fan: { forward: 'F', reverse: 'R', stop: 'S' } },
      },
    )
    const key = (loadId: string, want: string): Action => ({
      do: 'key',
      surfaceId: 'phone',
      loadId,
      want,
    })
    const board = beside(
      design,
      at(
        [500, key('fan', 'forward')],
        [3000, key('lamp', '50')],
        [6000, key('lamp', '25')],
        [9000, key('fan', 'stop')],
      ),
    )
    same(board)
    expect(board.changes(0)[0]?.some(c => (c.level ?? 0) > 30)).toBe(true)
    expect(board.changes(1)[0]?.at(-1)?.level).toBeGreaterThan(10)
  })
  it('a knob, and a remote', () => {
    const knob = withSensor(
      'contact',
      {},
      { type: 'removeSensor', sensorId: 'sensor' },
      { type: 'setKind', loadId: 'fan', kind: 'level' },
      { type: 'setPins', pins: { 'load:fan': 5 } },
      { type: 'addSensor', kind: 'knob', name: 'Knob', loadId: 'fan' },
    )
    const turned = beside(
      knob,
      at(
        [500, { do: 'turn', sensorId: 'knob', detents: 3 }],
        [4000, { do: 'turn', sensorId: 'knob', detents: -1 }],
      ),
    )
    same(turned)
    expect(turned.changes(0)[0]?.length).toBeGreaterThan(2)
    const remote = withSensor('infrared', {
      pin: 3,
      keys: [{ address: 0x12, command: 0x34, loadId: 'fan', asks: 'toggle' }],
    })
    const moved = edited(remote, { type: 'setPins', pins: { 'control:fan-button': 2 } })
    const key = { do: 'remote', sensorId: 'sensor', key: 0, repeats: 2 } as const
    const pressed = beside(moved, at([500, key], [3000, key]))
    same(pressed)
    expect(pressed.changes(0)[0]?.length).toBe(3)
  })
})

describe('what differs is found', () => {
  it('a board whose pins are driven the other way round', () => {
    const part = starter()
    const load = part.loads[0]!
    const other = edited(part, {
      type: 'setOutput',
      loadId: load.id,
      patch: { activeLevel: 'high' },
    })
    const board = beside(part, busy(part, 10_000), imageOf(other))
    expect(board.differences[0]?.words).toContain(`${load.name}: the b`)
  })
  it('a board that says something else', () => {
    const part = starter()
    const link = part.links[0]!
    const codes = { [part.loads[0]!.id]: { on: 'X', off: 'b' } }
    const other = edited(part, { type: 'assignCodes', linkId: link.id, codes })
    const board = beside(part, busy(part, 10_000), imageOf(other))
    expect(board.differences.map(d => d.words).join()).toContain(`${link.name}: the bench says`)
  })
  it('a second command in a burst on a counted-out wire is lost, as its finding says', () => {
    const part = over(starter(), 'wire')
    const link = part.links[0]!
    const { on = '', off = '' } = link.messages[0]!.codes as Record<string, string>
    const board = new BesideBoard(part, imageOf(part))
    const received = (t: number, code: string) =>
      ({ t, kind: 'received', linkId: link.id, text: code }) as const
    board.feed([{ t: 0, kind: 'boot', levels: [1] }, received(500, on), received(502, off)], [])
    board.runTo(3000)
    expect(board.changes(0)[0]?.at(-1)?.level).toBe(0)
  })
})

describe('how both are brought together', () => {
  const pair = (passing = 0) => new LinePair(0, 'Lamp', passing, 100)
  it('late within bounds is the same, and later is not', () => {
    const p = pair()
    p.take('bench', 0, 1)
    p.take('board', 40, 1)
    p.take('bench', 500, 0)
    p.take('board', 590, 0)
    expect(p.settle(5000)).toEqual([])
    expect(p.behindMs).toBe(90)
    p.take('bench', 6000, 1)
    p.take('board', 6200, 1)
    expect(p.settle(9000).map(d => d.words)).toEqual([
      'Lamp: the bench comes to level 1, the board does not',
      'Lamp: the board comes to level 1, the bench does not',
    ])
  })
  it('what may still come is waited for', () => {
    const p = pair()
    p.take('bench', 1000, 1)
    expect(p.settle(1050)).toEqual([])
    expect(p.settle(1200)).toHaveLength(1)
  })
  it('a pulse that one side has and the other has not', () => {
    const p = pair()
    for (const [t, level] of [
      [0, 0],
      [500, 1],
      [520, 0],
    ] as const)
      p.take('bench', t, level)
    p.take('board', 1, 0)
    expect(p.settle(5000)).toHaveLength(2)
  })
  it('what is passed on the way is not compared, where it is said so', () => {
    const p = pair(50)
    for (let n = 0; n <= 10; n++) p.take('bench', 20 * n, 10 * n)
    for (let n = 0; n <= 5; n++) p.take('board', 40 * n, 20 * n)
    expect(p.settle(5000)).toEqual([])
  })
  it('frequencies are made by whole counts', () => {
    const p = pair()
    p.take('bench', 0, 400)
    p.take('board', 1, 403)
    expect(p.settle(5000)).toEqual([])
  })
  it('texts, however they are cut', () => {
    const s = new SaidPair('link', 'Link', 100)
    s.take('bench', 0, '+A')
    s.take('board', 5, '+')
    expect(s.settle(50)).toEqual([])
    s.take('board', 6, 'A')
    expect(s.settle(60)).toEqual([])
    s.take('bench', 900, '+b')
    s.take('board', 905, '+B')
    expect(s.settle(950)).toEqual([])
    expect(s.settle(2000)).toEqual([
      { t: 900, load: -1, linkId: 'link', words: 'Link: the bench says "b", the board "B"' },
    ])
  })
})

it('lines in words', () => {
  const { output } = starter().loads[0]!
  expect(drivenShares(output, [0])).toEqual([1])
  expect([linesWords(output, [0]), linesWords(output, [1])]).toEqual(['on', 'off'])
})
