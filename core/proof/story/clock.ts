/**
 * When things happen in a story: each event on the time line of the bench, as soon as what it needs
 * has come about, and what has to be done on the bench for it.
 */
import { BOX_START_MS } from '../../bench/works'
import { COUNT_MS } from '../../bench/hands'
import { finger } from '../../bench/fingers'
import type { BenchScript } from '../../bench/script'
import { rawRange, readingText, restingRaw, type Raw } from '../../controller/readings'
import { ruled } from '../../controller/rules'
import { sensesPanel, worstWayMs } from '../../design/links/traits'
import type { Link, Load, FarSurface, Rule, Sensor } from '../../design/schema'
import { keepAliveMs } from '../../surfaces/surface'
import type { EventOf, SystemEvent } from '../happenings'
import { armedSlots } from '../tables/controller'
import { timerMs } from '../../controller/outputs/rows'
import { leastGapMs } from '../pace'
import type { Cast } from './cast'
import type { Flight } from './flight'
import { PACES_MS, type Times } from './ways'
import { isHeld, isOpposed, isPulse, isSwitched } from '../../design/outputs/traits'
import { isStick } from '../../design/sensors/traits'
import { rawOf, type StickWay } from '../../controller/sticks'

/** Where something still runs that a start armed, the story begins before it is over. */
const EARLY_MS = 100

/** What the board hears or feels. */
const REACHES_THE_BOARD: readonly SystemEvent['kind'][] = [
  'deliverUp',
  'doubleUp',
  'press',
  'hold',
  'other',
  'otherScene',
  'remote',
  'turn',
  'push',
  'rule',
  'powerOn',
]

/** Readings on the near side of a rule's limit and beyond it, of the real sensor. */
export function rawsAcross(sensor: Sensor, rule: Rule): [Raw, Raw] | null {
  const { low, high } = rawRange(sensor)
  const count = Math.min(2000, high - low)
  const pair = isStick(sensor)
  const raws = [
    restingRaw(sensor),
    ...Array.from({ length: count + 1 }, (_, i): Raw =>
      pair
        ? [Math.round(low + ((high - low) * i) / count), 0]
        : [Math.round(low + ((high - low) * i) / count)],
    ),
  ]
  const before = { beyond: false, last: null, way: 0 }
  for (const near of raws) {
    const first = ruled(rule, { ...before, beyond: true }, readingText(sensor, near)).state
    if (first.beyond !== false) continue
    const beyond = raws.find(raw => ruled(rule, first, readingText(sensor, raw)).acts)
    if (beyond) return [near, beyond]
  }
  return null
}

/**
 * From one thing to the next while something is on its way: several fit into what the link states,
 * ms.
 */
function stepOf(link: Link): number {
  return Math.max(link.timing.minMs + 1, Math.min(30, Math.floor(0.4 * worstWayMs(link))))
}

type Kind = SystemEvent['kind']
/** Where an event comes: the situation before it, what is ahead, when the one before was, ms. */
interface Now {
  s: Int32Array
  ahead: readonly SystemEvent[]
  since: number
}
type Action = BenchScript['steps'][number]['action']

export class Clock {
  /** Where the story is, ms; after `place` the moment at which the event takes effect. */
  t: number
  readonly script: BenchScript['steps'] = []
  private readonly startMs: number
  private away = false
  private backAfterMs = 0
  private droppedAt = 0
  private timeoutAt = 0
  private connectedAt = 0
  private repeatAt = 0
  private lastPress = -Infinity
  private changedAt = 0
  private readonly armedAt: number[] = []
  private bootedAt = -Infinity
  private readonly wayMs: number

  /** `s`: where the story begins. */
  constructor(
    private readonly cast: Cast,
    private readonly flight: Flight,
    private readonly times: Times,
    s: Int32Array,
  ) {
    const { system, link } = cast
    // Before the first connection, which is at once, where that is still to come; early where
    // something runs from the start on.
    const early = this.armed(s).length > 0 ? EARLY_MS : times.startMs
    this.t = this.startMs = system.isUp(s) ? early : 0
    this.wayMs = link ? this.wayOn(link) : 30
  }

  private wayOn(link: Link): number {
    const least = link.timing.minMs + 1
    if (this.cast.system.echoes) return least
    const quick = this.times.pace === PACES_MS.at(-1) ? 0.5 : 1
    return Math.max(least, Math.ceil(stepOf(link) * quick))
  }

  /** Puts an event on the time line. `ahead`: what is still to come; `first`: nothing was told. */
  place(event: SystemEvent, s: Int32Array, ahead: readonly SystemEvent[], first: boolean): void {
    const since = this.t
    if (first && event.kind === 'return') return
    const echo = this.flight.echoComing(event, s)
    this.t = echo === null ? this.t + this.step(event, s) : Math.max(this.t, echo)
    // What comes a second time counts only when its number is forgotten.
    const again = this.flight.arrivedAt(event, s)
    const { link } = this.cast
    if (again !== null && link?.numbered)
      this.t = Math.max(this.t, again + link.numbered.windowMs + 1)
    const places = this.PLACES[event.kind] as ((event: SystemEvent, now: Now) => void) | undefined
    places?.(event, { s, ahead, since })
  }

  /** From the event before to the next, ms. */
  private step(event: SystemEvent, s: Int32Array): number {
    return Math.min(
      this.flight.isEmpty ? this.times.pace : this.wayMs,
      this.beforeSaving(s),
      this.flight.beforeEcho(event, this.t),
    )
  }

  /** What has to be done for each kind of event, and when it takes effect. Others just come. */
  private readonly PLACES: {
    [K in Kind]?: (event: EventOf<K>, now: Now) => void
  } = {
    press: ({ input }) => this.press(input),
    key: (event, now) => this.key(this.keyOf(event), now),
    watchedKey: (event, now) => this.key(this.keyOf(event), now),
    scene: (event, now) => this.key(this.sceneOf(event), now),
    other: event => this.elsewhere(event),
    otherScene: event => this.elsewhere(event),
    remote: ({ sensor, key }) =>
      this.act({ do: 'remote', sensorId: this.sensorId(sensor), key, repeats: 0 }),
    turn: ({ knob: n, detents }) => {
      const knob = this.cast.system.controller.program.knobs[n]?.knob
      this.act({ do: 'turn', sensorId: knob?.id ?? '', detents })
      this.t += COUNT_MS * (knob?.countsPerDetent ?? 1)
    },
    push: ({ sensor, way }) => {
      const stick = this.cast.system.design.sensors[sensor]
      if (!stick || !isStick(stick)) return
      const ways: StickWay[] = way === 'rest' ? ['rest'] : ['rest', way]
      for (const to of ways)
        this.act({ do: 'sense', sensorId: stick.id, raw: [...rawOf(stick, to)] })
    },
    rule: ({ rule }) => this.rule(rule),
    end: ({ load, direction, closed }) => {
      const { output } = this.cast.loadAt(load) as Load
      const ends = isOpposed(output)
        ? { forward: output.forwardEnd, reverse: output.reverseEnd }
        : { forward: null, reverse: null }
      this.act({ do: 'sense', sensorId: ends[direction] ?? '', raw: [Number(closed)] })
    },
    drop: () => {
      const { panel } = this.cast
      this.act({ do: 'linkDown', linkId: panel?.linkId ?? '' })
      this.away = true
      this.isDown(this.reconnectMs)
      if (this.times.lingers) this.t += this.reconnectMs
    },
    restart: () => {
      this.act({ do: 'restartBox', surfaceId: this.cast.panel?.id ?? '' })
      this.isDown(BOX_START_MS)
    },
    return: () => this.comeBack(),
    notice: () => this.until(this.droppedAt + (this.cast.link?.timing.dropDetectMs ?? 0) + 1),
    timeout: () => {
      this.until(this.timeoutAt)
      this.timeoutAt = this.t + (this.cast.panel?.belief.timeoutMs ?? 0)
    },
    poll: () => this.onBeat(this.connectedAt, this.cast.panel?.pollMs ?? 1),
    tell: () => {
      const { link } = this.cast
      const since = link && sensesPanel(link) ? this.connectedAt : Math.max(0, this.bootedAt)
      this.onBeat(since, link?.everyMs || 1)
    },
    repeat: () => {
      const { output } = this.cast.load
      this.onBeat(this.repeatAt, isHeld(output) ? keepAliveMs(output) : 100)
    },
    least: () => this.until((this.flight.sentAt.down ?? 0) + (this.cast.link?.leastMs ?? 0)),
    save: () => this.until(this.changedAt + this.cast.saveDelayMs + 1),
    timer: ({ load, slot }, { since }) => {
      const id = this.cast.loadAt(load)?.id
      const { output } = this.cast.design.loads.find(l => l.id === id) as Load
      // A timer keeps its moment, however near it is to what came before.
      this.t = Math.max(since, (this.armedAt[slot] ?? 0) + timerMs(output, slot))
    },
    hold: ({ input }) => this.finger('hold', input),
    letGo: ({ input }) => this.finger('letGo', input),
    cut: () => {
      this.act({ do: 'powerOff' })
      this.droppedAt = this.t
    },
    powerOn: () => {
      this.act({ do: 'powerOn' })
      this.t += this.cast.design.controllers[0]?.bootMs ?? 0
      this.bootedAt = this.t
      // Links come back by themselves; the search names each return, the bench times it from here.
      this.isDown(this.reconnectMs)
    },
  }

  private act(action: Action): void {
    this.script.push({ atMs: this.t, action })
  }

  private until(ms: number): void {
    this.t = Math.max(this.t, ms)
  }

  /** At the next beat of something that comes every so many ms, one at least after `since`. */
  private onBeat(since: number, every: number): void {
    this.t = since + Math.max(1, Math.ceil((this.t - since) / every)) * every
  }

  private isDown(backAfterMs: number): void {
    this.droppedAt = this.t
    this.backAfterMs = backAfterMs
  }

  private get reconnectMs(): number {
    return this.cast.link?.timing.reconnectMs ?? 0
  }

  private sensorId(i: number): string {
    return this.cast.system.design.sensors[i]?.id ?? ''
  }

  private keyOf({ load, want }: { load: number; want: string }) {
    return { do: 'key', loadId: this.cast.loadAt(load)?.id ?? '', want } as const
  }

  private sceneOf({ scene }: { scene: number }) {
    return { do: 'scene', sceneId: this.cast.scene(scene)?.id ?? '' } as const
  }

  private press(input: number): void {
    const control = this.cast.control(input)
    const { gesture } = this.cast.gesture(input)
    const { moves, actsAfterMs } = finger(control, gesture)
    // The finger comes before what it does: the board waits until the contact is quiet.
    const pressedAt = Math.max(
      this.t - actsAfterMs,
      this.lastPress + leastGapMs(control),
      this.bootedAt + 20,
      this.startMs,
    )
    this.lastPress = pressedAt + Math.max(actsAfterMs, (moves.at(-1)?.afterMs ?? 0) - 150)
    const how = gesture === 'single' ? {} : { gesture }
    this.script.push({ atMs: pressedAt, action: { do: 'press', controlId: control.id, ...how } })
    this.t = pressedAt + actsAfterMs
  }

  private finger(does: 'hold' | 'letGo', input: number): void {
    const { id, debounceMs } = this.cast.control(input)
    this.act({ do: does, controlId: id })
    this.t += debounceMs
  }

  private key(asks: ReturnType<Clock['keyOf'] | Clock['sceneOf']>, now: Now): void {
    const { panel } = this.cast
    if (!panel) return
    this.until(this.lateEnough(panel.belief.timeoutMs, now))
    this.act(asksAt(panel, asks))
    this.timeoutAt = this.t + panel.belief.timeoutMs
    this.repeatAt = this.t
  }

  private elsewhere(event: EventOf<'other' | 'otherScene'>): void {
    const link = this.cast.linkAt(event.link)
    const surface = this.cast.speaker(event.link)
    if (!surface || !link) return
    const wayMs = stepOf(link)
    this.t = Math.max(this.t - wayMs, this.bootedAt + link.timing.reconnectMs + 50)
    const alone = 'load' in event && isHeld(this.cast.loadAt(event.load)?.output)
    this.flight.others.push({ linkId: link.id, at: this.t, fate: this.t + wayMs, alone })
    const asks =
      'load' in event
        ? this.keyOf({ ...event, want: event.want === 'toggle' ? 'flip' : event.want })
        : this.sceneOf(event)
    this.act(asksAt(surface, asks))
    this.t += wayMs
  }

  private rule(n: number): void {
    const { design, system } = this.cast
    const rule = design.rules.find(r => r.id === system.design.rules[n]?.id)
    const sensor = design.sensors.find(x => x.id === rule?.sensorId)
    const raws = rule && sensor ? rawsAcross(sensor, rule) : null
    if (!raws || !sensor) return
    this.act({ do: 'sense', sensorId: sensor.id, raw: [...raws[0]] })
    this.t += 20
    this.act({ do: 'sense', sensorId: sensor.id, raw: [...raws[1]] })
  }

  private comeBack(): void {
    if (this.away) {
      // It comes back into reach as long before as connecting takes: what the story tells meanwhile
      // may be a moment ago.
      this.away = false
      const reachMs = Math.max(this.droppedAt + 1, this.t - this.reconnectMs)
      const linkId = this.cast.panel?.linkId ?? ''
      this.script.push({ atMs: reachMs, action: { do: 'linkUp', linkId } })
      this.t = reachMs + this.reconnectMs
    } else this.until(this.droppedAt + this.backAfterMs)
    this.connectedAt = this.t
  }

  /** What an event has moved and armed. `moved`: the load went to another value. */
  note(event: SystemEvent, before: Int32Array, after: Int32Array, moved: boolean): void {
    if (moved) this.changedAt = this.t
    const were = this.armed(before)
    for (const slot of this.armed(after))
      if (!were.includes(slot) || this.armsAnew(event, slot, moved)) this.armedAt[slot] = this.t
  }

  private armed(s: Int32Array): number[] {
    const { system } = this.cast
    return armedSlots(system.controller.state(system.controllerOf(s)).motion[0] ?? null)
  }

  /** Whether what is armed already is armed once more by an event, and from when it counts. */
  private armsAnew(event: SystemEvent, slot: number, moved: boolean): boolean {
    if (!REACHES_THE_BOARD.includes(event.kind)) return false
    const { output } = this.cast.load
    return (
      moved
      || isHeld(output)
      || (isPulse(output) && output.again === 'restart')
      || (isSwitched(output) && slot === 1)
    )
  }

  /**
   * When a key is pressed that waits for an answer longer than something runs that ends first:
   * shortly before that end.
   */
  private lateEnough(timeoutMs: number, { s, ahead }: Now): number {
    const end = ahead.findIndex(e => e.kind === 'timer')
    const timer = ahead[end]
    if (
      timer?.kind !== 'timer'
      || !ahead.slice(end).some(e => e.kind === 'timeout')
      || ahead.slice(0, end).some(e => e.kind === 'timeout')
    )
      return 0
    const armedAt = this.armedAt[timer.slot]
    if (timer.load !== 0 || armedAt === undefined || !this.armed(s).includes(timer.slot)) return 0
    return armedAt + timerMs(this.cast.load.output, timer.slot) - Math.floor(0.8 * timeoutMs)
  }

  /**
   * A value that is not saved yet in the story must not be saved by the bench before the story goes
   * on: things are done faster then, an eighth of the save delay apart.
   */
  private beforeSaving(s: Int32Array): number {
    const { system, saveDelayMs } = this.cast
    const { saveDue } = system.controller.state(system.controllerOf(s))
    return saveDue.some(due => due !== null) ? Math.max(1, Math.floor(saveDelayMs / 8)) : Infinity
  }
}

function asksAt(
  { id }: FarSurface,
  asks: { do: 'key'; loadId: string; want: string } | { do: 'scene'; sceneId: string },
): Action {
  const { do: what, ...rest } = asks
  return { do: what, surfaceId: id, ...rest } as Action
}
