/** A surface, tabulated. */
import { ABOUT, ASKED, ASKS, atMostSends, NEXT, SENDS, Table } from './table'
import { MOST_EACH_WAY } from '../packing'
import type { Messages } from './messages'
import { MOST_MESSAGES } from './messages'
import type { Output } from '../../design/schema'
import {
  type Shown,
  startSurface,
  type SurfaceEvent,
  SurfaceMachine,
  type SurfaceProgram,
  type SurfaceState,
  shown,
  type Via,
} from '../../surfaces/surface'
import { asked, valuesOf } from '../../design/values'
import { isDefinite } from '../../bench/trace'

const CONFIRM_DUE = 10
const POLL_DUE = 20
const NOT_NOW = 1000
/** Facts of a panel state. */
export const WAITING = 1
export const HOLDS = 2
export const CONNECTED = 4
export const POLLS = 8

/** A key of the panel: what it asks of a load, or a scene. */
export type PanelKeyAct = { load: number; want: string } | { scene: number }
export const PANEL = { linkUp: 0, linkDown: 1, poll: 2, restart: 3 } as const
/**
 * A time-out and a keep-alive have an act of their own for each number that a command may begin
 * with.
 */
const FIRST_TIMEOUT = 4
/** Numbers of commands grow without end; for the search there are so many at once (tidy.ts). */
export const NUMBERS = 12

export class SurfaceTable extends Table<SurfaceState> {
  /**
   * By state: the value that is shown for the load examined, as a number of `valuesOf`; -1 =
   * nothing definite.
   */
  readonly shows: number[] = []
  readonly facts: number[] = []
  private readonly spoken: readonly string[]

  /** Numbers that commands can carry here; 1 = they carry none. */
  readonly numbers: number
  private readonly firstKey: number

  constructor(
    readonly program: SurfaceProgram,
    private readonly messages: Messages,
    readonly keys: readonly PanelKeyAct[],
  ) {
    const numbers = program.link.numbered ? NUMBERS : 1
    super(
      FIRST_TIMEOUT + 2 * numbers + keys.length * numbers + MOST_MESSAGES + 1,
      NEXT.panel,
      program.panel.name,
    )
    this.numbers = numbers
    this.firstKey = FIRST_TIMEOUT + 2 * numbers
    this.spoken = valuesOf(program.outputs[0] as Output)
  }

  start(): number {
    return this.intern(startSurface(this.program))
  }

  shown(n: number): Shown {
    const belief = this.state(n).beliefs[0]
    return belief ? shown(belief) : 'unknown'
  }

  /** `number`: the first fresh one, from 0; only where commands carry any. */
  key(i: number, number = 0): number {
    return this.firstKey + i * this.numbers + number
  }
  timeout(number = 0): number {
    return FIRST_TIMEOUT + number
  }
  /** The next keep-alive of the keys that are held down. */
  repeat(number = 0): number {
    return FIRST_TIMEOUT + this.numbers + number
  }
  message(m: number): number {
    return this.firstKey + this.keys.length * this.numbers + m
  }

  move(n: number, act: number): number {
    const known = this.moves[n * this.acts + act] as number
    return known !== -1 ? known : this.compute(n, act)
  }

  private compute(n: number, act: number): number {
    const { state, event } = this.prepared(this.state(n), act)
    const unit = new SurfaceMachine(this.program, {
      ...state,
      beliefs: state.beliefs.slice(),
      holds: state.holds.slice(),
      slides: state.slides.slice(),
      readings: state.readings.slice(),
    })
    const texts = (event ? unit.handle(event) : []).map(text =>
      this.messages.number(text, 'command'),
    )
    atMostSends(texts, this.program.panel.name)
    const about = event
      ? unit.about
          .slice(0, MOST_EACH_WAY)
          .reduce((bits, load, i) => bits | (load === 0 ? 1 << i : 0), 0)
      : 0
    const move =
      this.intern(this.timeless(unit.state))
      | (texts.length << SENDS.panel)
      | (about << ABOUT)
      | (this.asksFor(state, act) << ASKS)
    this.moves[n * this.acts + act] = move
    this.sent[n * this.acts + act] = this.packed(texts)
    return move
  }

  private asksFor(s: SurfaceState, act: number): number {
    const key = this.keyAt(act)
    const belief = s.beliefs[0]
    if (!key || 'scene' in key || key.load !== 0 || !belief) return 0
    return (
      Math.max(
        0,
        this.spoken.indexOf(
          asked(
            this.program.outputs[0] as Output,
            belief.waiting?.asked ?? belief.value ?? '',
            key.want,
          ),
        ),
      ) & ASKED
    )
  }

  private keyAt(act: number): PanelKeyAct | undefined {
    return act < this.firstKey
      ? undefined
      : this.keys[Math.floor((act - this.firstKey) / this.numbers)]
  }

  private prepared(
    s: SurfaceState,
    act: number,
  ): { state: SurfaceState; event: SurfaceEvent | null } {
    const now = 0
    if (act >= FIRST_TIMEOUT && act < this.repeat())
      return {
        state: { ...s, number: act - FIRST_TIMEOUT },
        event: { kind: 'tick', now: CONFIRM_DUE },
      }
    if (act >= this.repeat() && act < this.firstKey)
      return {
        state: {
          ...quiet(s),
          number: act - this.repeat(),
          pollDue: s.pollDue === null ? null : NOT_NOW,
        },
        event: { kind: 'tick', now: POLL_DUE },
      }
    switch (act) {
      case PANEL.linkUp:
        return { state: s, event: { kind: 'linkUp', now } }
      case PANEL.linkDown:
        return { state: s, event: { kind: 'linkDown', now } }
      case PANEL.poll:
        return {
          state: { ...quiet(s), holds: s.holds.map(h => (h === null ? null : NOT_NOW)) },
          event: { kind: 'tick', now: POLL_DUE },
        }
      // It begins to number somewhere else: never with a number that was seen lately.
      case PANEL.restart:
        return { state: startSurface(this.program), event: null }
    }
    const key = this.keyAt(act)
    if (key) {
      const state = { ...s, number: (act - this.firstKey) % this.numbers }
      return {
        state,
        event:
          'scene' in key
            ? { kind: 'scene', now, scene: key.scene }
            : { kind: 'key', now, load: key.load, want: key.want },
      }
    }
    const { text, via } = this.messages.texts[act - this.message(0)] as { text: string; via: Via }
    return { state: s, event: { kind: 'received', now, text, via } }
  }

  /** By load: the number that it waits with, or 0. */
  waitingNumbers(n: number): number[] {
    return this.state(n).beliefs.map(b => b.waiting?.number ?? 0)
  }

  /** The state with numbers counted anew: the place of each in `order`, from 1. */
  renumbered(n: number, order: readonly number[]): number {
    return this.renamed(n, order, () => {
      const state = this.state(n)
      return {
        ...state,
        beliefs: state.beliefs.map(b =>
          b.waiting?.number
            ? { ...b, waiting: { ...b.waiting, number: order.indexOf(b.waiting.number) + 1 } }
            : b,
        ),
      }
    })
  }

  protected keyOf(state: SurfaceState): string {
    return JSON.stringify(state)
  }

  protected added(s: SurfaceState, n: number): void {
    const is = this.shown(n)
    this.shows[n] = isDefinite(is) ? this.spoken.indexOf(is) : -1
    this.facts[n] =
      (s.beliefs.some(b => b.waiting) ? WAITING : 0)
      | (s.holds.some(h => h !== null) ? HOLDS : 0)
      | (s.up ? CONNECTED : 0)
      | (s.pollDue === null ? 0 : POLLS)
  }

  private timeless(state: SurfaceState): SurfaceState {
    return {
      ...state,
      number: 0,
      pollDue: state.pollDue === null ? null : POLL_DUE,
      holds: state.holds.map(h => (h === null ? null : POLL_DUE)),
      beliefs: state.beliefs.map(b =>
        b.waiting ? { ...b, waiting: { ...b.waiting, since: 0, due: CONFIRM_DUE } } : b,
      ),
    }
  }
}

/** No answer is overdue yet. */
function quiet(state: SurfaceState): SurfaceState {
  return {
    ...state,
    beliefs: state.beliefs.map(b =>
      b.waiting ? { ...b, waiting: { ...b.waiting, due: NOT_NOW } } : b,
    ),
  }
}
