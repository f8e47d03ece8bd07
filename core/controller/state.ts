/**
 * What a controller knows, and when it next has to do something by itself. The parts are values
 * that are replaced, never changed, so that a state can be kept, compared and gone back to.
 */
import { restOf } from '../design/values'
import { earlier } from '../units/clock'
import { FRESH, type ReplayWindow } from '../messages/sealing'
import { motionDue, restingMotion } from './outputs/rows'
import type { Motion } from './outputs/motion'
import { gestureDue, type PressRun } from './gestures'
import type { Raw } from './readings'
import type { Program } from './program'
import type { StickWay } from './sticks'
import { nth } from '../units/lists'

/** A pin reads 1 when open (pull-up) and 0 when the contact is closed to ground. */
export type Level = 0 | 1

export interface InputState {
  /** Debounced level. */
  level: Level
  /** A level that has not been stable long enough: since its first edge, accepted at `due`. */
  pending: { level: Level; since: number; due: number } | null
  lockedUntil: number | null
  /** Presses that may still become another gesture. */
  run: PressRun | null
}
/**
 * Two lines of a knob, counts since the last detent, transitions that no turning makes, and when
 * the last detent was.
 */
export interface KnobState {
  lines: number
  count: number
  invalid: number
  fastUntil: number | null
}
/**
 * How a value was told on a link: not again before `freeAt`, and whether something is owed then.
 */
export interface LeastState {
  freeAt: number | null
  owed: boolean
}
/**
 * What waits for the link: a text, a load whose report is made when it leaves, -1 - i for reading
 * i, or the whole state.
 */
export type Waiting = string | number
export const WHOLE_STATE = 1_000_000
export interface LinkState {
  up: boolean
  buffer: string
  /** Counters of signed commands that were taken; kept over a power cut. */
  window: ReplayWindow
  /** The number that the next command has to sign, and how long it is good. */
  handed: { number: number; until: number } | null
  /** Numbers of commands seen lately. */
  seen: readonly { number: number; until: number }[]
  /** Loads whose next value is adopted, after a sender said that it has just started. */
  adopts: readonly boolean[]
  /** A message is on its way out; others wait. Only where the link has a queue. */
  busy: boolean
  queue: readonly Waiting[]
  /** Reports that were given up because the queue was full. */
  dropped: number
  /** By load; null where nothing limits how often it is reported. */
  least: readonly LeastState[] | null
  /** When the whole state is sent again. */
  everyDue: number | null
}
/** `text`: "" before the first time. */
export interface ToldState {
  text: string
  freeAt: number | null
  owed: boolean
  everyDue: number | null
}
/** `beyond`: null before the first reading. `way`: travelled since it acted last, from `last`. */
export interface RuleState {
  beyond: boolean | null
  last: number | null
  way: number
}

/** `way`: null before it was read. `due`: when it asks again, held to one side. */
export interface StickState {
  way: StickWay | null
  due: number | null
}

/** A lamp that nobody switches. */
export interface LampState {
  on: boolean
  /** When the light of a message ends. */
  due: number | null
}
export const DARK: LampState = { on: false, due: null }

export interface ControllerState {
  now: number
  running: boolean
  starts: number
  /** Numbers that were handed out to be signed, since the start. */
  drawn: number
  /** The value that each load was last told to have: what surfaces should show. */
  value: readonly string[]
  /** What each output has under way. */
  motion: readonly Motion[]
  /** Non-volatile memory: the last saved value, by load. Survives a power cut. */
  memory: readonly string[]
  /**
   * Values that are being written; lost by a power cut, which leaves what was there before. null =
   * nothing is.
   */
  writing: readonly string[] | null
  /** Values that came up for saving while a write was under way. */
  saveOwed: readonly boolean[]
  saveDue: readonly (number | null)[]
  inputs: readonly InputState[]
  /** By knob of the program. */
  knobs: readonly KnobState[]
  /** By stick of the program. */
  sticks: readonly StickState[]
  links: readonly LinkState[]
  /** What each sensor gave last; null before the first time. */
  samples: readonly (Raw | null)[]
  /** By reading of the program: what was told last, and when it is to be told again. */
  told: readonly ToldState[]
  rules: readonly RuleState[]
  /** By lamp of the program. */
  lamps: readonly LampState[]
}
/** The same with lists that are changed in place. */
export type WorkingState = {
  -readonly [K in keyof ControllerState]: ControllerState[K] extends readonly (infer T)[]
    ? T[]
    : ControllerState[K]
}

export type ControllerEvent =
  | { kind: 'boot'; now: number; levels: readonly Level[] }
  | { kind: 'powerOff'; now: number }
  | { kind: 'tick'; now: number }
  | { kind: 'pin'; now: number; input: number; level: Level }
  /** Both lines of a knob, as they are read. */
  | { kind: 'knob'; now: number; knob: number; a: Level; b: Level }
  /** A frame of a remote, or the repeat of one. */
  | {
      kind: 'infrared'
      now: number
      sensor: number
      address: number
      command: number
      repeat: boolean
    }
  | { kind: 'received'; now: number; link: number; text: string; request?: number }
  | { kind: 'linkUp'; now: number; link: number }
  | { kind: 'linkDown'; now: number; link: number }
  /** The board joins its network, or loses it. */
  | { kind: 'network'; now: number; up: boolean }
  /** What was handed to a link with a queue has left. */
  | { kind: 'sent'; now: number; link: number }
  | { kind: 'sample'; now: number; sensor: number; raw: Raw }
  /** What was being written is written. */
  | { kind: 'memoryDone'; now: number }

/**
 * Order of what happens at the same time (docs/behaviour.md); pins follow one another by input,
 * bytes by link, in the room between.
 */
export const EVENT_ORDER = {
  powerOff: 0,
  boot: 100,
  linkDown: 200,
  linkUp: 300,
  network: 300,
  tick: 400,
  memoryDone: 400,
  pin: 500,
  knob: 500,
  infrared: 600,
  sample: 700,
  received: 800,
  sent: 800,
} as const satisfies Record<ControllerEvent['kind'], number>

export type Status = 200 | 403 | 404 | 409
export type Effect =
  /**
   * Level of a line of a load, in the order of `linesOf`: low or high, 0 to 255 where it dims, Hz
   * where it steps.
   */
  | { kind: 'pin'; load: number; line: number; level: number }
  /** Level of the pin of a lamp that nobody switches. */
  | { kind: 'lamp'; lamp: number; level: Level }
  | { kind: 'send'; link: number; text: string }
  /** Answer to one HTTP request: to a command, or to the question for the state. */
  | {
      kind: 'reply'
      link: number
      text: string
      status: Status
      to: 'command' | 'ask' | 'refused'
      request: number | undefined
    }
  | { kind: 'save'; load: number; value: string }

export const UNTOLD: ToldState = { text: '', freeAt: null, owed: false, everyDue: null }
export const FREE: LeastState = { freeAt: null, owed: false }
const UNPUSHED: StickState = { way: null, due: null }
const UNKNOWN_RULE: RuleState = { beyond: null, last: null, way: 0 }

/** A controller before its first start. */
export function startController(program: Program): ControllerState {
  return startWorking(program)
}

/** The same, to be worked on in place. */
export function startWorking(program: Program): WorkingState {
  return {
    now: 0,
    running: false,
    starts: 0,
    drawn: 0,
    value: program.loads.map(l => restOf(l.output)),
    motion: program.loads.map(l => restingMotion(l.output, program.holders)),
    memory: program.loads.map(l => restOf(l.output)),
    writing: null,
    saveOwed: program.loads.map(() => false),
    saveDue: program.loads.map(() => null),
    inputs: program.inputs.map(() => ({ level: 1, pending: null, lockedUntil: null, run: null })),
    knobs: program.knobs.map(() => ({ lines: 3, count: 0, invalid: 0, fastUntil: null })),
    sticks: program.sticks.map(() => UNPUSHED),
    links: program.links.map((_, i) => restingLink(program, i, false, FRESH)),
    samples: program.design.sensors.map(() => null),
    told: program.readings.map(() => UNTOLD),
    rules: program.rules.map(() => UNKNOWN_RULE),
    lamps: program.lamps.map(() => DARK),
  }
}

/** A link as it is before anything was said on it. */
export function restingLink(
  program: Program,
  index: number,
  up: boolean,
  window: ReplayWindow,
): LinkState {
  const { link } = nth(program.links, index)
  return {
    up,
    buffer: '',
    window,
    handed: null,
    seen: [],
    adopts: NOBODY,
    busy: false,
    queue: [],
    dropped: 0,
    everyDue: null,
    least: link.leastMs ? program.loads.map(() => FREE) : null,
  }
}
const NOBODY: readonly boolean[] = []

/** A copy to be worked on in place, at `now`, ms on the 32-bit clock. */
export function workingCopy(state: ControllerState, now: number): WorkingState {
  return {
    ...state,
    now,
    value: state.value.slice(),
    motion: state.motion.slice(),
    memory: state.memory.slice(),
    saveOwed: state.saveOwed.slice(),
    saveDue: state.saveDue.slice(),
    inputs: state.inputs.slice(),
    knobs: state.knobs.slice(),
    sticks: state.sticks.slice(),
    links: state.links.slice(),
    samples: state.samples.slice(),
    told: state.told.slice(),
    rules: state.rules.slice(),
    lamps: state.lamps.slice(),
  }
}

/** When the controller next wants a tick, or null. */
export function nextDue(state: ControllerState): number | null {
  if (!state.running) return null
  let due: number | null = null
  for (const input of state.inputs) {
    if (input.pending !== null) due = earlier(due, input.pending.due)
    else if (input.lockedUntil !== null) due = earlier(due, input.lockedUntil)
    if (input.run !== null) due = earlier(due, gestureDue(input.run, input.pending?.level ?? null))
  }
  for (const knob of state.knobs) due = earlier(due, knob.fastUntil)
  for (const stick of state.sticks) due = earlier(due, stick.due)
  for (const motion of state.motion) if (motion !== null) due = earlier(due, motionDue(motion))
  for (const save of state.saveDue) due = earlier(due, save)
  for (const told of state.told) due = earlier(due, earlier(told.freeAt, told.everyDue))
  for (const lamp of state.lamps) due = earlier(due, lamp.due)
  for (const link of state.links) {
    due = earlier(due, link.everyDue)
    if (link.least !== null) for (const least of link.least) due = earlier(due, least.freeAt)
    if (link.handed !== null) due = earlier(due, link.handed.until)
    for (const seen of link.seen) due = earlier(due, seen.until)
  }
  return due
}
