/** Boxes that are boards of the design: what is wired to them acts on loads of another board. */
import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import { keysOfBox } from '../../../../core/design/boxes'
import { partOf } from '../../../../core/design/part'
import { needs } from '../../../../core/design/pins'
import type { Dialect } from '../../../../core/design/dialects/schema'
import type { Design, PeerSurface } from '../../../../core/design/schema'
import { dialectEdit } from '../../../../core/messages/assign'
import { applyEdit, type Edit } from '../../../../core/design/edits/edits'
import { validateDesign } from '../../../../core/design/validate'
import {
  compileSurface,
  startSurface,
  surfaceStep,
  type SurfaceEvent,
} from '../../../../core/surfaces/surface'
import { edited, fanDesign, valid } from '../../../fixtures/designs'

/** A fan and a lamp of five levels; a knob box over peer radio, which is a board of its own. */
function boxed(...more: Edit[]): Design {
  return edited(
    fanDesign(),
    { type: 'addLoad', name: 'Lamp' },
    { type: 'setKind', loadId: 'lamp', kind: 'level' },
    { type: 'addPeer', name: 'Knob box', over: 'peer' },
    {
      type: 'addMessage',
      linkId: 'knob-box-link',
      loadId: 'fan',
      codes: { on: '010101', off: '010100' },
    },
    {
      type: 'addMessage',
      linkId: 'knob-box-link',
      loadId: 'lamp',
      codes: { 0: '010200', 25: '010201', 50: '010202', 75: '010203', 100: '010204' },
    },
    { type: 'setBoxBoard', surfaceId: 'knob-box', board: 'board-8bit-5v' },
    ...more,
  )
}
const BUTTON: Edit = { type: 'addControl', surfaceId: 'knob-box', loadId: 'fan', kind: 'push' }
const KNOB: Edit = {
  type: 'addSensor',
  kind: 'knob',
  name: 'Knob',
  loadId: 'lamp',
  controllerId: 'knob-box',
}
const LIMITED: Edit = { type: 'setPeer', surfaceId: 'knob-box', patch: { leastMs: 100 } }
const lines = (up: string, down: string): Edit[] => [
  {
    type: 'setLink',
    linkId: 'knob-box-link',
    patch: { dialect: { kind: 'lines', template: '{load} {value}', terminator: 'lf' } },
  },
  { type: 'renameCode', linkId: 'knob-box-link', loadId: 'lamp', which: 'up', code: up },
  { type: 'renameCode', linkId: 'knob-box-link', loadId: 'lamp', which: 'down', code: down },
]
const boxOf = (design: Design) =>
  design.surfaces.find((s): s is PeerSurface => s.kind === 'peer') as PeerSurface
const benchOf = (design: Design) => new Bench(partOf(design, 'board'), 3)
const said = (bench: Bench) =>
  bench.trace.messages.filter(
    m =>
      m.linkId === 'knob-box-link'
      && m.dir === 'up'
      && m.text !== '?\n'
      && m.text !== '\x03\0\0\x7e',
  )

describe('a box that is a board', () => {
  it('asks for what is wired to it, as keys of its surface', () => {
    expect(boxOf(boxed(BUTTON, KNOB)).keys).toEqual([
      { loadId: 'fan', form: 'state', asks: ['flip'] },
      { loadId: 'lamp', form: 'stepper', asks: ['up', 'down'] },
    ])
    expect(boxOf(boxed()).keys).toEqual([])
  })

  it('gets buttons for what stood on it before', () => {
    const before = edited(boxed({ type: 'setBoxBoard', surfaceId: 'knob-box', boardId: null }), {
      type: 'placeKey',
      surfaceId: 'knob-box',
      key: { loadId: 'fan', form: 'pair' } as never,
    })
    const design = edited(before, {
      type: 'setBoxBoard',
      surfaceId: 'knob-box',
      boardId: 'knob-box',
    })
    const box = boxOf(design)
    expect(box.controls.map(c => [c.loadId, c.asks])).toEqual([
      ['fan', 'on'],
      ['fan', 'off'],
    ])
    expect(new Set(box.controls.map(c => c.pin)).size).toBe(2)
    expect(box.keys).toEqual([{ loadId: 'fan', form: 'pair', asks: ['on', 'off'] }])
  })

  it('has its pins planned on its own board', () => {
    const design = boxed(BUTTON, KNOB)
    expect(needs(partOf(design, 'knob-box')).map(n => n.what)).toEqual([
      'Fan, button (Knob box)',
      'Knob, line A',
      'Knob, line B',
    ])
    const moved = edited(design, { type: 'setPins', pins: { 'control:fan-button-2': 9 } })
    expect(boxOf(moved).controls[0]?.pin).toBe(9)
  })

  it.each<[string, (d: Design) => void, string, RegExp]>([
    [
      'speaks to itself',
      d => {
        boxOf(d).boardId = 'board'
      },
      '/surfaces/2/boardId',
      /does not speak to itself/,
    ],
    [
      'has keys that do not follow from its controls',
      d => {
        boxOf(d).keys[0]!.asks = ['on']
      },
      '/surfaces/2/keys',
      /follow from what is wired/,
    ],
    [
      'has a control for a load that its link does not carry',
      d => {
        d.links[1]!.messages = []
      },
      '/surfaces/2/controls/0/loadId',
      /has no message on link/,
    ],
    [
      'has controls and is no board',
      d => {
        boxOf(d).boardId = null
      },
      '/surfaces/2/controls',
      /say which in boardId/,
    ],
  ])('is refused where it %s', (_, spoil, path, message) => {
    const design = structuredClone(boxed(BUTTON))
    spoil(design)
    const checked = validateDesign(design)
    expect(checked.ok).toBe(false)
    if (!checked.ok)
      expect(checked.problems).toContainEqual({ path, message: expect.stringMatching(message) })
  })

  it('is no board that can be taken away while it is used', () => {
    const applied = applyEdit(boxed(), { type: 'removeController', controllerId: 'knob-box' })
    expect(applied).toMatchObject({
      ok: false,
      problems: [{ message: expect.stringContaining('still has Knob box') }],
    })
  })

  it('keeps keys that follow: they cannot be placed or formed by hand', () => {
    const design = boxed(BUTTON)
    const edit: Edit = {
      type: 'setKeyForm',
      surfaceId: 'knob-box',
      keyId: 'fan',
      form: 'pair',
    }
    expect(applyEdit(design, edit)).toMatchObject({
      ok: false,
      problems: [{ message: expect.stringContaining('follow from what is wired') }],
    })
  })
})

describe('on the bench', () => {
  it('a press is debounced on the box, goes over its link, and moves the load', () => {
    const bench = benchOf(boxed(BUTTON))
    bench.act({ do: 'press', controlId: 'fan-button-2' })
    bench.advance(20)
    expect(bench.value('fan')).toBe('off')
    bench.advance(500)
    expect(bench.value('fan')).toBe('on')
    expect(bench.shown('knob-box', 'fan')).toBe('on')
    expect(bench.trace.contacts['fan-button-2']?.length).toBeGreaterThan(1)
    bench.act({ do: 'press', controlId: 'fan-button-2' })
    bench.advance(1500)
    expect(bench.value('fan')).toBe('off')
    expect(said(bench)).toHaveLength(2)
  })

  it('a lever of a box that decides by its position asks for what it says', () => {
    const design = edited(
      boxed(),
      { type: 'addControl', surfaceId: 'knob-box', loadId: 'fan', kind: 'latching' },
      { type: 'setControl', controlId: 'fan-switch', patch: { acts: 'position' } },
    )
    expect(boxOf(design).keys[0]?.asks).toEqual(['on', 'off'])
    const bench = benchOf(design)
    bench.act({ do: 'press', controlId: 'fan-switch' })
    bench.advance(500)
    expect(bench.value('fan')).toBe('on')
    bench.act({ do: 'press', controlId: 'fan-switch' })
    bench.advance(1000)
    expect(bench.value('fan')).toBe('off')
  })

  it('a lever that leads at a start is asked for as soon as the link is there', () => {
    const design = edited(
      boxed(),
      { type: 'addControl', surfaceId: 'knob-box', loadId: 'fan', kind: 'latching' },
      {
        type: 'setControl',
        controlId: 'fan-switch',
        patch: { acts: 'position', atStart: 'follow' },
      },
    )
    const bench = benchOf(design)
    bench.act({ do: 'press', controlId: 'fan-switch' })
    bench.advance(500)
    bench.act({ do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'flip' })
    bench.advance(2000)
    expect(bench.value('fan')).toBe('off')
    bench.act({ do: 'restartBox', surfaceId: 'knob-box' })
    bench.advance(6000)
    expect(bench.value('fan')).toBe('on')
  })

  it('a knob steps from what the box believes, where its link has no code for a step', () => {
    // At once they might overtake one another: peer radio keeps no order.
    const bench = benchOf(boxed(KNOB, LIMITED))
    // It asks how it is first.
    bench.advance(500)
    bench.act({ do: 'turn', sensorId: 'knob', detents: 3 })
    bench.advance(1000)
    expect(bench.value('lamp')).toBe('75')
    bench.act({ do: 'turn', sensorId: 'knob', detents: -1 })
    bench.advance(2000)
    expect(bench.value('lamp')).toBe('50')
  })

  it('a knob says steps where there is a code for them: what somebody else set is no matter', () => {
    const bench = benchOf(boxed(KNOB, ...lines('lamp up', 'lamp down')))
    bench.act({ do: 'turn', sensorId: 'knob', detents: 2 })
    bench.advance(1000)
    expect(said(bench).map(m => m.text)).toEqual(['lamp up\n', 'lamp up\n'])
    expect(bench.value('lamp')).toBe('50')
  })

  it('sends no more often than it may, and says where it ends', () => {
    const bench = benchOf(boxed(KNOB, ...lines('lamp up', 'lamp down'), LIMITED))
    bench.act({ do: 'turn', sensorId: 'knob', detents: 4 })
    bench.advance(2000)
    const at = said(bench).map(m => m.sentMs)
    expect(at).toHaveLength(4)
    for (const [i, t] of at.slice(1).entries()) expect(t - at[i]!).toBeGreaterThanOrEqual(100)
    expect(bench.value('lamp')).toBe('100')
  })

  it('says several steps in one message where their codes have a place for how many', () => {
    const bench = benchOf(boxed(KNOB, ...lines('lamp up {value}', 'lamp down {value}'), LIMITED))
    bench.act({ do: 'turn', sensorId: 'knob', detents: 4 })
    bench.advance(1000)
    expect(said(bench).map(m => m.text)).toEqual(['lamp up 1\n', 'lamp up 3\n'])
    expect(bench.value('lamp')).toBe('100')
    // Up and down again before it may say either comes to nothing.
    bench.act({ do: 'turn', sensorId: 'knob', detents: -1 })
    bench.advance(1020)
    bench.act({ do: 'turn', sensorId: 'knob', detents: 1 })
    bench.advance(1040)
    bench.act({ do: 'turn', sensorId: 'knob', detents: -1 })
    bench.advance(2000)
    expect(
      said(bench)
        .slice(2)
        .map(m => m.text),
    ).toEqual(['lamp down 1\n'])
    expect(bench.value('lamp')).toBe('75')
  })

  it('a sensor of a box acts on a load of the other board', () => {
    const design = edited(
      boxed(),
      { type: 'addSensor', kind: 'contact', name: 'Door', controllerId: 'knob-box' },
      {
        type: 'addRule',
        rule: {
          id: 'x',
          name: 'Fan while open',
          sensorId: 'door',
          when: 'is',
          text: 'open',
          atStart: false,
          sets: [{ loadId: 'fan', value: 'on' }],
          sceneId: null,
        },
      },
    )
    expect(boxOf(design).keys).toEqual([{ loadId: 'fan', form: 'pair', asks: ['on'] }])
    // The board of the fan knows no such rule: what it hears is a command.
    expect(partOf(design, 'board').rules).toEqual([])
    const bench = benchOf(design)
    bench.act({ do: 'sense', sensorId: 'door', raw: [1] })
    bench.advance(500)
    expect(bench.value('fan')).toBe('off')
    bench.act({ do: 'sense', sensorId: 'door', raw: [0] })
    bench.advance(1000)
    expect(bench.value('fan')).toBe('on')
    expect(bench.raw('door')).toEqual([0])
  })

  it('a scene is asked for by its code, or load by load where it has none', () => {
    const scene: Edit = {
      type: 'addScene',
      name: 'Work',
      sets: [
        { loadId: 'fan', value: 'on' },
        { loadId: 'lamp', value: '50' },
      ],
    }
    const bare = edited(boxed(scene, BUTTON), {
      type: 'setControl',
      controlId: 'fan-button-2',
      patch: { sceneId: 'work' },
    })
    expect(boxOf(bare)).toMatchObject({
      scenes: [],
      keys: [
        { loadId: 'fan', asks: ['on'] },
        { loadId: 'lamp', asks: ['50'] },
      ],
    })
    const coded = edited(bare, {
      type: 'setSceneCode',
      linkId: 'knob-box-link',
      sceneId: 'work',
      code: '010001',
    })
    expect(boxOf(coded)).toMatchObject({ scenes: ['work'], keys: [] })
    for (const [design, messages] of [
      [bare, 2],
      [coded, 1],
    ] as const) {
      const bench = benchOf(design)
      bench.act({ do: 'press', controlId: 'fan-button-2' })
      bench.advance(800)
      expect([bench.value('fan'), bench.value('lamp')]).toEqual(['on', '50'])
      expect(said(bench)).toHaveLength(messages)
    }
  })

  it('what is pressed while its link is down is not kept for later', () => {
    const bench = benchOf(boxed(BUTTON))
    bench.act({ do: 'linkDown', linkId: 'knob-box-link' })
    bench.advance(10_000)
    bench.act({ do: 'press', controlId: 'fan-button-2' })
    bench.advance(11_000)
    bench.act({ do: 'linkUp', linkId: 'knob-box-link' })
    bench.advance(20_000)
    expect(bench.value('fan')).toBe('off')
  })

  it('runs by its own power', () => {
    const bench = benchOf(boxed(BUTTON))
    bench.act({ do: 'powerOff' })
    bench.advance(2000)
    bench.act({ do: 'powerOn' })
    bench.advance(12_000)
    bench.act({ do: 'press', controlId: 'fan-button-2' })
    bench.advance(14_000)
    expect(bench.value('fan')).toBe('on')
  })
})

describe('lamps of a box', () => {
  const lamp = (shows: 'link' | 'waiting' | 'network'): Edit => ({
    type: 'addLamp',
    name: shows,
    shows,
    controllerId: 'knob-box',
  })
  const lit = (bench: Bench, id: string) =>
    (bench.trace.lamps[id] ?? []).map(c => [c.t, c.level] as const)

  it('over radio: lit shortly by what is heard, and while an answer is waited for', () => {
    const bench = benchOf(boxed(BUTTON, lamp('link'), lamp('waiting')))
    bench.advance(1000)
    const before = lit(bench, 'link').length
    bench.act({ do: 'press', controlId: 'fan-button-2' })
    bench.advance(3000)
    const heard = bench.trace.messages
      .filter(m => m.linkId === 'knob-box-link' && m.dir === 'down' && m.endMs > 1000)
      .toSorted((a, b) => a.endMs - b.endMs)
    expect(heard.length).toBeGreaterThan(0)
    const flashes = lit(bench, 'link').slice(before)
    expect(flashes[0]).toEqual([heard[0]!.endMs, 1])
    // Whatever comes within makes it longer; then it is dark.
    expect(flashes.at(-1)).toEqual([heard.at(-1)!.endMs + 100, 0])
    const sent = said(bench)[0]!.sentMs
    expect(lit(bench, 'waiting').slice(-2)).toEqual([
      [sent, 1],
      [heard[0]!.endMs, 0],
    ])
  })

  it('without an answer the lamp of what waits is lit until the box gives up', () => {
    const bench = benchOf(boxed(BUTTON, lamp('waiting')))
    bench.advance(1000)
    bench.act({ do: 'powerOff' })
    bench.act({ do: 'press', controlId: 'fan-button-2' })
    bench.advance(60_000)
    const [[from, on] = [0, 0], [to, off] = [0, 1]] = lit(bench, 'waiting').slice(-2)
    expect([on, off]).toEqual([1, 0])
    const { timeoutMs, retries } = boxOf(boxed(BUTTON)).belief
    expect(to - from).toBe(timeoutMs * (retries + 1))
  })

  it('over a network: lit while it is connected, dark while its router or its power is out', () => {
    const over = edited(
      fanDesign(),
      { type: 'addPeer', name: 'Knob box', over: 'http' } as Edit,
      {
        type: 'addMessage',
        linkId: 'knob-box-link',
        loadId: 'fan',
        codes: { on: '/fan/on', off: '/fan/off' },
      },
      { type: 'setBoxBoard', surfaceId: 'knob-box', board: 'board-wifi-full' },
      ...[BUTTON, lamp('link'), lamp('network')],
    )
    const bench = benchOf(over)
    bench.advance(2000)
    const is = (id: string) => bench.trace.lamps[id]?.at(-1)?.level
    expect([is('link'), is('network')]).toEqual([1, 1])
    bench.act({ do: 'routerDown' })
    bench.advance(60_000)
    expect([is('link'), is('network')]).toEqual([0, 0])
    bench.act({ do: 'routerUp' })
    bench.advance(120_000)
    expect([is('link'), is('network')]).toEqual([1, 1])
    bench.act({ do: 'restartBox', surfaceId: 'knob-box' })
    expect([is('link'), is('network')]).toEqual([null, null])
    bench.advance(180_000)
    expect(is('link')).toBe(1)
  })

  it('shows the link over which its board asks, and goes with it', () => {
    const design = boxed(BUTTON, lamp('link'))
    expect(validateDesign(design).ok).toBe(true)
    expect(design.controllers[1]?.lamps[0]).toMatchObject({ linkId: 'knob-box-link' })
    const gone = edited(design, { type: 'setBoxBoard', surfaceId: 'knob-box', boardId: null })
    expect(gone.controllers.flatMap(c => c.lamps)).toEqual([])
    const other = structuredClone(design)
    Object.assign(other.controllers[1]!.lamps[0]!, { linkId: fanDesign().links[0]!.id })
    const found = validateDesign(other)
    expect(found.ok || found.problems[0]?.message).toContain('those over which it asks')
  })
})

describe('a flag that says that the sender has just started', () => {
  /** A follower of five positions, told by structures with such a flag. */
  const flagged = (...more: Edit[]) => {
    const lamp = edited(boxed(), { type: 'setKind', loadId: 'lamp', kind: 'follower' })
    const dialect: Dialect = {
      kind: 'packed',
      framing: 'none',
      crc: '',
      endian: 'little',
      packed: true,
      fields: [
        { name: 'kind', type: 'u8', is: 'kind' },
        { name: 'load', type: 'u8', is: 'load' },
        { name: 'value', type: 'u8', is: 'value' },
        { name: 'started', type: 'u8', is: 'started' },
      ],
    }
    return edited(lamp, dialectEdit(lamp, 'knob-box-link', dialect), ...more)
  }
  const sent = (bench: Bench) =>
    bench.trace.messages
      .filter(m => m.linkId === 'knob-box-link' && m.dir === 'up')
      .map(m => m.text)

  it('goes with what it says until it hears something, and moves nothing', () => {
    const program = compileSurface(flagged(), 'knob-box')
    let state = startSurface(program)
    const step = (event: SurfaceEvent) => {
      const stepped = surfaceStep(program, state, event)
      state = stepped.state
      return stepped.sends
    }
    step({ kind: 'linkUp', now: 0 })
    const key = (want: string): SurfaceEvent => ({ kind: 'key', now: 10, load: 1, want })
    expect(step(key('3'))).toEqual(['\x01\x02\x03\x01'])
    expect(step(key('4'))).toEqual(['\x01\x02\x04\x01'])
    step({ kind: 'received', now: 20, text: '\x02\x02\x04\x00', via: 'stream' })
    expect(step(key('2'))).toEqual(['\x01\x02\x02\x00'])
  })

  it('is set once where nothing is ever told', () => {
    const design = flagged(
      { type: 'setPoll', surfaceId: 'knob-box', pollMs: 0 },
      ...['fan', 'lamp'].map((loadId): Edit => ({
        type: 'setReport',
        linkId: 'knob-box-link',
        loadId,
        ack: false,
        change: false,
      })),
    )
    expect(compileSurface(design, 'knob-box').flagged).toBe('once')
    expect(compileSurface(flagged(), 'knob-box').flagged).toBe('until heard')
    expect(compileSurface(boxed(), 'knob-box').flagged).toBeNull()
  })

  it('makes a board take over the position that it says, and turn from there', () => {
    const bench = benchOf(flagged({ type: 'setPoll', surfaceId: 'knob-box', pollMs: 0 }))
    bench.advance(100)
    bench.act({ do: 'key', surfaceId: 'knob-box', loadId: 'lamp', want: '3' })
    bench.advance(3000)
    expect(bench.value('lamp')).toBe('3')
    expect(bench.trace.lines.lamp?.flat().filter(l => l.t > 0)).toEqual([])
    bench.act({ do: 'key', surfaceId: 'knob-box', loadId: 'lamp', want: '4' })
    bench.advance(6000)
    expect(bench.value('lamp')).toBe('4')
    expect(bench.trace.lines.lamp?.flat().filter(l => l.t > 3000).length).toBeGreaterThan(0)
    expect(sent(bench).map(t => t.charCodeAt(3))).toEqual([1, 0])
  })

  it('is refused where two fields say it', () => {
    const design = structuredClone(flagged())
    const link = design.links[1]
    if (link?.kind !== 'peer' || link.dialect.kind !== 'packed') throw new Error('no structure')
    link.dialect.fields.push({ name: 'more', type: 'u8', is: 'started' })
    const checked = validateDesign(design)
    expect(JSON.stringify(checked)).toContain('one field tells a start')
  })
})

it('keys follow the same from a document as from edits', () => {
  const design = valid(JSON.parse(JSON.stringify(boxed(BUTTON, KNOB))))
  expect(keysOfBox(design, boxOf(design)).keys).toEqual(boxOf(design).keys)
})
