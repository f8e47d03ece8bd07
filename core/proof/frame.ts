/**
 * What the table of transitions, the walk over it, notes and names know of a system: so much and no
 * more.
 */
import type { ControllerTable } from './tables/controller'
import type { Messages, Ordered } from './tables/messages'
import type { PanelKeyAct, SurfaceTable } from './tables/surface'

/**
 * What is asked of the situations: that panels show the truth, that no command acts twice, that a
 * start moves nothing, that hands and board behave.
 */
export type Question = 'truth' | 'twice' | 'restart' | 'board'

/** Whether all comes to rest is asked where it is asked what is shown at rest. */
export function asksRest(question: Question): boolean {
  return question === 'truth' || question === 'restart'
}

/** Where the situations go that follow one. */
export interface Sink {
  add(w0: number, w1: number, up: number, down: number, event: number): void
  /** Something was noticed on the way: bits of moves and of watch.ts. */
  notice(what: number, event: number): void
}

/** What a situation has to be like. All that is said has to hold. */
export interface When {
  /** Bits of word 0 that are set, or clear. */
  on?: number
  off?: number
  /** Facts of the surface and of the board, of which one at least is so. */
  surface?: number
  board?: number
  /** Facts of the board of which none is so. */
  notBoard?: number
  /** Nothing is under way; or nothing on the way up. */
  still?: 'all' | 'up'
  /** Nothing is still to come that needs nobody. */
  settled?: true
  /** Bits of word 1 under a mask that have a value. */
  notes?: { mask: number; value: number }
  /** Asked of the board: what is no matter of bits. */
  also?: (c: number) => boolean
}

/** Whose notes: what each of them writes down stands in watch.ts. */
export type Note =
  'heard' | 'lost' | 'done elsewhere' | 'pressed' | 'pressed beside' | 'watched' | 'timed out'

export interface Row {
  event: number
  /** It needs nobody, and no misfortune. */
  quiet: boolean
  when: When
  /** Once for each armed timer, or for each thing that anybody can do to the board in its state. */
  each?: 'armed' | 'changes'
  /**
   * A message that it is about: it arrives, or is `lost`; `keeps`: it will come once more. `alike`:
   * as good as another with the same words.
   */
  message?: { dir: 'up' | 'down'; nth: number; keeps: boolean; alike: boolean; lost?: true }
  /** Whose move. Both: the link returns. Nobody's: only words change. */
  who: 'board' | 'surface' | 'both' | 'nobody'
  /**
   * The number of the act; the first of them where there is one for each message, timer or set of
   * levers.
   */
  act: number
  /** Bits of word 0 that become clear, set, or the other. */
  clear?: number
  set?: number
  flip?: number
  /** Bits of word 1: what stands there under the mask. */
  marks?: { mask: number; value: number }
  /** The link falls, and what was under way is gone. */
  falls?: true
  /** The surface begins anew at the same time. */
  restarts?: true
  /** Only where the surface says something; only where that is about the load. */
  speaks?: 'anything' | 'of the load'
  /** The act is followed by the number that the command carries. */
  numbered?: true
  /** The act depends on where the levers stand: all of them at a start, one that is moved. */
  levers?: 'all' | { bit: number; closed: number; open: number }
  note?: Note
  /** What is looked for on the way: bits of the move. */
  looks?: number
}

/** A hand control: its event, its acts, the bit of a lever, whether a finger stays on it. */
export interface Hand {
  input: number
  event: number
  press: number
  lever: readonly [number, number] | null
  bit: number
  holds: boolean
  letGo: number
}

/** Acts and events by number, and what the link can do. */
export interface Layout {
  readonly off: number
  readonly save: number
  readonly up: number
  readonly down: number
  readonly tell: number
  readonly sent: number
  readonly least: number
  readonly boot: number
  readonly timer: number
  readonly message: number
  readonly hands: readonly Hand[]
  readonly ends: readonly End[]
  readonly timers: readonly unknown[]
  readonly datagrams: boolean
  readonly copiesAct: boolean
  readonly loses: boolean
  readonly patient: boolean
  /** Nobody does anything in the moment that a message takes to leave. */
  readonly unhurried: boolean
  /** Whatever is under way arrives before a least time is over. */
  readonly sparse: boolean
  /** An answer comes too late only where a least time holds it back. */
  readonly answered: boolean
  /** The fact of the board that a message has not left yet, as far as that counts. */
  readonly leaving: number
  readonly first: Record<string, number | undefined>
}
export interface End {
  readonly event: number
  readonly act: number
  readonly load: number
  readonly sensor: number
  readonly direction: 'forward' | 'reverse'
  readonly closed: boolean
}

export interface Frame {
  readonly question: Question
  readonly panel: SurfaceTable | null
  readonly controller: ControllerTable
  readonly messages: Messages
  readonly numbered: boolean
  /** What is sent on the link comes back to its sender. */
  readonly echoes: boolean
  readonly ordered: Ordered
  readonly showsIt: boolean
  readonly rows: readonly Row[]
  readonly layout: Layout
  readonly watch: {
    readonly noticed: number
    noted: (row: Row, w0: number, before: number, w1: number, move: number, up: number) => number
    seen: (w0: number, w1: number) => number
    isOver: (w0: number, w1: number) => boolean
  }
  readonly tidy: {
    add: (w0: number, w1: number, up: number, down: number, event: number, sink: Sink) => void
  }
  readonly pace: {
    readonly active: boolean
    allows: (event: number, w0: number) => boolean
    tagged: (row: Row, event: number, w0: number, before: number, after: number) => number
    sorted: (w0: number, down: number) => [w0: number, down: number]
    untagged: (w0: number) => number
  }
  judge: (w0: number, w1: number) => -1 | 0 | 1
  canEnd: (c: number, end: End) => boolean
  isDown: (c: number, input: number) => boolean
  /** A report of a load waits, for the one before was told so lately; in time: it would. */
  isHeldBack: (c: number, load: number) => boolean
  isAbout: (key: PanelKeyAct) => boolean
  heldBack: (timer: number, w0: number, w1: number, underWay: number) => boolean
  changesAt: (c: number) => readonly number[]
  comeBack: (w0: number, w1: number, sink: Sink) => void
  freshNumber: (p: number, up: number) => number
  hasRoom: (
    w1: number,
    up: number,
    down: number,
    length: number,
    count: number,
    row: Pick<Row, 'message' | 'note'>,
  ) => boolean
  /** What comes back of messages that went one way, and could mean something to who said them. */
  echoOf: (said: number, dir: 'up' | 'down') => number
  wouldBeTold: (w0: number, w1: number) => boolean
  waitsInVain: (w0: number, w1: number) => boolean
}
