import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Edit } from '../../../../core/design/edits/edits'
import { compileController } from '../../../../core/controller/program'
import { startController, step } from '../../../../core/controller/step'
import { firstCounter, toldCounter } from '../../../../core/messages/sealing'
import type { Design } from '../../../../core/design/schema'
import {
  compileSurface,
  panelDue,
  surfaceStep,
  SLIDE_MS,
  shown,
  startSurface,
  SurfaceMachine,
  type SurfaceEvent,
  type SurfaceProgram,
  type SurfaceState,
  type Shown,
} from '../../../../core/surfaces/surface'
import {
  DIALECTS,
  edited,
  fanDesign,
  glazeRoom,
  speaking,
  twoPanelDesign,
} from '../../../fixtures/designs'

class Phone {
  readonly program: SurfaceProgram
  state: SurfaceState
  readonly sent: string[] = []
  constructor(design: Design, surfaceId = 'phone') {
    this.program = compileSurface(design, surfaceId)
    this.state = startSurface(this.program)
  }

  do(event: SurfaceEvent): this {
    const { state, sends } = surfaceStep(this.program, this.state, event)
    this.state = state
    this.sent.push(...sends)
    return this
  }

  up(now = 0): this {
    return this.do({ kind: 'linkUp', now })
  }
  down(now = 0): this {
    return this.do({ kind: 'linkDown', now })
  }
  key(want: 'on' | 'off' | 'flip' = 'flip', now = 0): this {
    return this.do({ kind: 'key', now, load: 0, want })
  }
  hear(text: string, via: 'stream' | 'command' | 'ask' = 'stream'): this {
    return this.do({ kind: 'received', now: 0, text, via })
  }
  tick(now: number): this {
    return this.do({ kind: 'tick', now })
  }
  get shows(): Shown {
    return shown(this.state.beliefs[0]!)
  }
}
const belief = (patch: Extract<Edit, { type: 'setBelief' }>['patch']): Design =>
  edited(fanDesign(), { type: 'setBelief', surfaceId: 'phone', patch })

describe('policies', () => {
  it('assume shows at once what was asked, whatever becomes of it', () => {
    const phone = new Phone(belief({ policy: 'assume' })).up().key('on')
    expect(phone.shows).toBe('on')
    expect(phone.sent).toEqual(['F'])
    expect(panelDue(phone.state)).toBeNull()
  })
  it('confirm waits, repeats, then is unsure', () => {
    const phone = new Phone(belief({ policy: 'confirm', timeoutMs: 1000, retries: 1 }))
      .up()
      .key('on', 100)
    expect(phone.shows).toBe('waiting')
    expect(panelDue(phone.state)).toBe(1100)
    expect(phone.tick(1099).sent).toEqual(['F'])
    expect(phone.tick(1100).sent).toEqual(['F', 'F'])
    expect(phone.shows).toBe('waiting')
    expect(phone.tick(2100).shows).toBe('unknown')
    expect(phone.sent).toEqual(['F', 'F'])
  })
  it('confirm is satisfied by a matching report only', () => {
    const phone = new Phone(belief({ policy: 'confirm' })).up().key('on').hear('+f')
    expect(phone.shows).toBe('waiting')
    expect(phone.hear('+F').shows).toBe('on')
  })
  it('report only shows what it hears', () => {
    const phone = new Phone(belief({ policy: 'report' })).up().key('on')
    expect(phone.shows).toBe('unknown')
    expect(phone.hear('+F').shows).toBe('on')
  })
})

describe('keys', () => {
  it('one key with state asks for the opposite of what it shows, or of what it waits for', () => {
    const phone = new Phone(fanDesign()).up().hear('+F').key()
    expect(phone.sent).toEqual(['f'])
    expect(phone.key().sent).toEqual(['f', 'F'])
  })
  it('do nothing while the link is known to be down, or without a code', () => {
    expect(new Phone(fanDesign()).key('on').sent).toEqual([])
    const mute = edited(fanDesign(), {
      type: 'renameCode',
      linkId: 'phone-link',
      loadId: 'fan',
      which: 'on',
      code: '',
    })
    expect(new Phone(mute).up().key('on').sent).toEqual([])
  })
})

describe('loss of the link', () => {
  it.each([
    ['keep', 'on'],
    ['stale', 'stale-on'],
    ['unknown', 'unknown'],
  ] as const)('%s: %s', (onLoss, after) =>
    expect(new Phone(belief({ onLoss })).up().hear('+F').down().shows).toBe(after),
  )
  it('a command without an answer leaves the key unsure', () =>
    expect(new Phone(belief({ onLoss: 'keep' })).up().hear('+f').key('on').down().shows).toBe(
      'unknown',
    ))
  it('what comes while it is down is not heard; a half report is forgotten', () => {
    const phone = new Phone(fanDesign()).up().hear('+').down().hear('F').up().hear('F')
    expect(phone.shows).toBe('unknown')
    expect(phone.hear('+F').shows).toBe('on')
  })
})

describe('asking', () => {
  it('at once when it connects, then at its interval, and never while it is down', () => {
    const phone = new Phone(glazeRoom(), 'office-browser').up(500)
    expect(phone.sent).toEqual(['/state'])
    expect(panelDue(phone.state)).toBe(2500)
    expect(phone.tick(2500).sent).toEqual(['/state', '/state'])
    phone.down(2600)
    expect(panelDue(phone.state)).toBeNull()
  })
  it('takes the answer line by line, and does not mind lines it does not know', () => {
    const phone = new Phone(glazeRoom(), 'office-browser')
      .up()
      .hear('wheel-lights=1\nsomething=else\nbooth-extractor=0', 'ask')
    expect(phone.state.beliefs.map(shown)).toEqual(['off', 'on', 'unknown', 'unknown'])
  })
  it('with an event stream the answers to commands are left aside: they may be overtaken', () => {
    const phone = new Phone(twoPanelDesign(), 'browser').up().hear('fan=1', 'command')
    expect(phone.shows).toBe('unknown')
    expect(phone.hear('fan=1', 'stream').shows).toBe('on')
  })
})

describe('faders', () => {
  const dimmed = (patch: Extract<Edit, { type: 'setBelief' }>['patch'] = { policy: 'assume' }) =>
    edited(
      fanDesign(),
      { type: 'setKind', loadId: 'fan', kind: 'level' },
      {
        type: 'assignCodes',
        linkId: 'phone-link',
        codes: { fan: { 0: 'a', 25: 'b', 50: 'c', 75: 'd', 100: 'e' } },
      },
      { type: 'setKeyForm', surfaceId: 'phone', keyId: 'fan', form: 'fader' },
      { type: 'setBelief', surfaceId: 'phone', patch },
    )
  const slide = (want: string, now: number): SurfaceEvent => ({ kind: 'slide', now, load: 0, want })
  it('send the first value at once, then at most ten a second, and always where they end', () => {
    const phone = new Phone(dimmed()).up()
    for (const [want, now] of [
      ['25', 0],
      ['50', 20],
      ['75', 40],
      ['100', 60],
      ['75', 80],
    ] as const)
      phone.do(slide(want, now))
    expect(phone.sent).toEqual(['b'])
    expect(panelDue(phone.state)).toBe(100)
    phone.tick(100)
    expect(phone.sent).toEqual(['b', 'd'])
    expect(phone.shows).toBe('75')
    expect(panelDue(phone.state)).toBeNull()
  })
  it('at any pace of drawing: no two sends closer than 100 ms, and the last value is the last sent', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.constantFrom('0', '25', '50', '75', '100'), fc.integer({ min: 1, max: 160 })),
          { minLength: 1, maxLength: 30 },
        ),
        moves => {
          const phone = new Phone(dimmed()).up()
          const times: number[] = []
          let now = 0
          const say = (event: SurfaceEvent) => {
            const before = phone.sent.length
            phone.do(event)
            for (let i = before; i < phone.sent.length; i++) times.push(event.now)
          }
          for (const [want, gap] of moves) {
            for (
              let due = panelDue(phone.state);
              due !== null && due <= now + gap;
              due = panelDue(phone.state)
            )
              say({ kind: 'tick', now: due })
            now += gap
            say(slide(want, now))
          }
          for (let due = panelDue(phone.state); due !== null; due = panelDue(phone.state))
            say({ kind: 'tick', now: due })
          expect(times.slice(1).every((t, i) => t - times[i]! >= SLIDE_MS)).toBe(true)
          expect(phone.sent.at(-1)).toBe(
            { 0: 'a', 25: 'b', 50: 'c', 75: 'd', 100: 'e' }[moves.at(-1)![0]],
          )
        },
      ),
    )
  })
  it('a key that is pressed in between counts for more than where the fader was', () => {
    const phone = new Phone(dimmed())
      .up()
      .do(slide('25', 0))
      .do(slide('100', 50))
      .do({ kind: 'key', now: 60, load: 0, want: '0' })
      .tick(200)
    expect(phone.sent).toEqual(['b', 'a'])
  })
  it('say nothing without a link, and forget where they were when it is lost', () => {
    const phone = new Phone(dimmed())
      .do(slide('25', 0))
      .up(10)
      .do(slide('50', 20))
      .do(slide('75', 30))
      .down(40)
    expect(phone.sent).toEqual(['c'])
    expect(panelDue(phone.state)).toBeNull()
  })
})

describe('scenes, timers and readings', () => {
  const scene = () =>
    edited(
      fanDesign(),
      { type: 'addScene', name: 'All off', sets: [{ loadId: 'fan', value: 'off' }] },
      { type: 'setSceneCode', linkId: 'phone-link', sceneId: 'all-off', code: 'X' },
    )
  it('a scene is one code; each of its loads is believed as if it had been asked for', () => {
    const phone = new Phone(scene()).up().hear('+F').do({ kind: 'scene', now: 5, scene: 0 })
    expect([phone.sent, phone.shows]).toEqual([['X'], 'waiting'])
    expect(phone.hear('+f').shows).toBe('off')
  })
  it('a scene without a code here says nothing', () =>
    expect(
      new Phone(
        edited(scene(), {
          type: 'setSceneCode',
          linkId: 'phone-link',
          sceneId: 'all-off',
          code: '',
        }),
      )
        .up()
        .do({ kind: 'scene', now: 5, scene: 0 }).sent,
    ).toEqual([]))
  it("a timer is asked for with its time where the link has room for one; what it does is the board's to tell", () => {
    const timed = edited(
      twoPanelDesign(),
      {
        type: 'setOutput',
        loadId: 'fan',
        patch: { timers: { onDelayMs: 400, offDelayMs: 300, blinkMs: 250 } },
      },
      { type: 'renameCode', linkId: 'browser-link', loadId: 'fan', which: 'for', code: '/fan/for' },
      { type: 'renameCode', linkId: 'phone-link', loadId: 'fan', which: 'for', code: 'Q' },
    )
    const browser = new Phone(timed, 'browser').up()
    browser.sent.length = 0
    expect(browser.do({ kind: 'key', now: 1, load: 0, want: 'for:90000' }).sent).toEqual([
      '/fan/for/90000',
    ])
    expect(browser.shows).toBe('unknown')
    expect(
      new Phone(timed).up().do({ kind: 'key', now: 1, load: 0, want: 'for:90000' }).sent,
    ).toEqual(['Q'])
  })
  it('readings are kept and marked stale, or forgotten, when the link is lost', () => {
    const told = (onLoss: 'keep' | 'stale' | 'unknown') =>
      edited(
        fanDesign(),
        { type: 'addSensor', kind: 'thermometer', name: 'Room' },
        { type: 'setReading', linkId: 'phone-link', sensorId: 'room', patch: { code: 'T' } },
        { type: 'setBelief', surfaceId: 'phone', patch: { onLoss } },
      )
    expect(
      (['keep', 'stale', 'unknown'] as const).map(
        onLoss => new Phone(told(onLoss)).up().hear('+T21;').down().state.readings[0],
      ),
    ).toEqual([
      { text: '21', stale: false },
      { text: '21', stale: true },
      { text: '', stale: false },
    ])
  })
  it('what was understood is told to who asks: values, readings, refusals', () => {
    const design = edited(
      fanDesign(),
      { type: 'addSensor', kind: 'thermometer', name: 'Room' },
      { type: 'setReading', linkId: 'phone-link', sensorId: 'room', patch: { code: 'T' } },
    )
    const program = compileSurface(design, 'phone')
    const up = surfaceStep(program, startSurface(program), { kind: 'linkUp', now: 0 }).state
    expect(
      surfaceStep(program, up, { kind: 'received', now: 1, via: 'stream', text: '+F+T20;zz' })
        .heard,
    ).toEqual([
      { load: 0, value: 'on' },
      { sensor: 0, text: '20' },
    ])
  })
})

describe('a refusal that tells a count', () => {
  const signed = (answers: object) =>
    edited(
      twoPanelDesign(),
      {
        type: 'setLink',
        linkId: 'browser-link',
        patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 }, onConnect: false, ...answers },
      },
      { type: 'setReport', linkId: 'browser-link', loadId: 'fan', change: false, ack: true },
    )
  const machine = (design: Design, surfaceId = 'browser') => {
    const program = compileSurface(design, surfaceId)
    const phone = new SurfaceMachine(program, startSurface(program) as SurfaceMachine['state'])
    phone.handle({ kind: 'linkUp', now: 0 })
    return phone
  }
  const key = (want: string, now: number): SurfaceEvent => ({ kind: 'key', now, load: 0, want })
  const hears = (text: string, via: 'command' | 'refused', now: number): SurfaceEvent => ({
    ...{ kind: 'received', now, text, via, about: 0 },
  })

  it('is about the command that was not answered, though its answer was heard before', () => {
    const design = edited(
      speaking(fanDesign(), DIALECTS.lines!),
      {
        type: 'setLink',
        linkId: 'phone-link',
        patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 } },
      },
      { type: 'setBelief', surfaceId: 'phone', patch: { policy: 'report' } },
    )
    const phone = machine(design, 'phone')
    const [link] = design.links
    const says = (text: string, now: number) =>
      phone.handle({ kind: 'received', now, text: `${text}\n`, via: 'stream' })
    for (const now of [10, 20]) {
      phone.handle(key('on', now))
      says('+fan -> on Ã©', now + 5)
    }
    phone.handle(key('off', 30))
    const again = says(toldCounter(link!, 9), 35)
    expect(again.map(text => text.slice(0, 10))).toEqual(['fan -> off'])
  })
  it('is one refusal, where answers are lines', () => {
    const phone = machine(signed({ answers: 'text' }))
    phone.handle(key('on', 10))
    expect(phone.handle(hears('its counter is too old (n=9)', 'refused', 15))).toHaveLength(1)
    expect(shown(phone.state.beliefs[0]!)).toBe('waiting')
  })
})

describe('two phones with one key', () => {
  const design = edited(
    twoPanelDesign(),
    {
      type: 'setLink',
      linkId: 'browser-link',
      patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 }, onConnect: false },
    },
    { type: 'setReport', linkId: 'browser-link', loadId: 'fan', change: false, ack: true },
  )
  const controller = compileController(design)
  const index = controller.links.findIndex(l => l.link.id === 'browser-link')
  const program = compileSurface(design, 'browser')
  it.each([
    ['that drew different lots', 0, 1],
    ['that drew the same', 2, 2],
  ])('%s both work for as long as they like, and no replay does', (_, one, two) => {
    let board = step(controller, startController(controller), {
      kind: 'boot',
      now: 0,
      levels: [1],
    }).state
    const phones = [one, two].map(
      device =>
        surfaceStep(program, startSurface(program, 0, firstCounter(device)), {
          kind: 'linkUp',
          now: 0,
        }).state,
    )
    const said: string[] = []
    const says = (n: number, event: SurfaceEvent): void => {
      const stepped = surfaceStep(program, phones[n]!, event)
      phones[n] = stepped.state
      stepped.sends.forEach((text, i) => {
        said.push(text)
        const { state, effects } = step(controller, board, {
          kind: 'received',
          now: event.now,
          link: index,
          text,
        })
        board = state
        for (const e of effects)
          if (e.kind === 'reply')
            says(n, {
              kind: 'received',
              now: event.now,
              text: e.text,
              via: e.to,
              about: stepped.about[i]!,
            })
      })
    }
    for (let i = 0; i < 60; i++) {
      // Now the one for a while, now the other.
      const n = Math.floor(i / 3) % 2
      const want = i % 2 ? 'off' : 'on'
      says(n, { kind: 'key', now: 1000 * i, load: 0, want })
      expect([i, board.value[0], shown(phones[n]!.beliefs[0]!)]).toEqual([i, want, want])
    }
    for (const text of said) {
      const after = step(controller, board, { kind: 'received', now: 90_000, link: index, text })
      expect(after.state.value[0]).toBe(board.value[0])
      expect(after.effects).toContainEqual(expect.objectContaining({ status: 403 }))
    }
  })
})
