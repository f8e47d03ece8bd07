/** What can happen in a system, in words of a type; and how contrived each is. */

import type { StickWay } from '../controller/sticks'

export type SystemEvent =
  /**
   * `place`: from 0. On a stream the first arrives first; datagrams lie sorted, and any of them may
   * come.
   */
  | {
      kind: 'deliverUp' | 'deliverDown' | 'doubleUp' | 'doubleDown' | 'loseUp' | 'loseDown'
      place: number
    }
  | { kind: 'drop' | 'return' | 'notice' | 'timeout' | 'poll' | 'tell' | 'repeat' | 'restart' }
  /** A timer of an output: end of a pulse or hold, of a dead time or a run. */
  | { kind: 'timer'; load: number; slot: number }
  /** The least time between two reports of a load is over. */
  | { kind: 'least'; load: number }
  /** What was handed to a link with a queue has left. */
  | { kind: 'sent' }
  | { kind: 'press'; input: number }
  /** A finger on a hand control of a held load stays, or leaves. */
  | { kind: 'hold' | 'letGo'; input: number }
  /** A command from another surface reaches the board. */
  | { kind: 'other'; link: number; load: number; want: string }
  | { kind: 'otherScene'; link: number; scene: number }
  | { kind: 'remote'; sensor: number; key: number }
  | { kind: 'turn'; knob: number; detents: 1 | -1 }
  /** A stick is pushed to a side from where it rests, or let go. */
  | { kind: 'push'; sensor: number; way: StickWay }
  | { kind: 'rule'; rule: number }
  /** An end contact closes while the load runs towards it, and opens when it runs away from it. */
  | { kind: 'end'; load: number; direction: 'forward' | 'reverse'; closed: boolean }
  | { kind: 'key'; load: number; want: string }
  /** The same, and it is the one that is watched. */
  | { kind: 'watchedKey'; load: number; want: string }
  | { kind: 'scene'; scene: number }
  | { kind: 'save' | 'cut' | 'powerOn' }

/** Events of one kind. */
export type EventOf<K extends SystemEvent['kind'], E = SystemEvent> = E extends {
  kind: infer Kinds
}
  ? K extends Kinds
    ? E
    : never
  : never

/**
 * Of stories that are equally long the least contrived is told: what comes by itself weighs
 * nothing, a press little, going out of reach more, a message lost or doubled more than that, a
 * start more still, and a power cut most.
 */
const CONTRIVED: Partial<Record<SystemEvent['kind'], number>> = {
  press: 1,
  hold: 1,
  key: 1,
  watchedKey: 1,
  scene: 1,
  other: 2,
  otherScene: 2,
  remote: 2,
  turn: 2,
  push: 2,
  rule: 2,
  drop: 4,
  loseUp: 8,
  loseDown: 8,
  doubleUp: 8,
  doubleDown: 8,
  restart: 16,
  cut: 32,
}

/** How contrived an event is. */
export function weightOf(event: SystemEvent): number {
  return CONTRIVED[event.kind] ?? 0
}
