/**
 * Lamps that nobody switches: they show a link, the network, or that something is waited for.
 */
import { clock32, reached } from '../units/clock'
import type { ProgramLamp } from './program'
import type { LampState } from './state'

/** How long a lamp of a link without a connection is lit by a message, ms. */
export const FLASH_MS = 100

/** What a lamp may show after an event. */
export interface LampNow {
  /** Whether its board is in its network, where that was just said. */
  network: boolean | null
  /** Of the link that it shows: whether a connection can be known of at all, and is there. */
  senses: boolean
  up: boolean
  /** Something just came over that link. */
  heard: boolean
  /** A load, or an answer, is waited for. */
  waits: () => boolean
}

/** A lamp of a board that runs, after an event. `now`: ms. */
export function lampAfter(
  shows: ProgramLamp['lamp']['shows'],
  was: LampState,
  is: LampNow,
  now: number,
): LampState {
  switch (shows) {
    case 'link':
      return is.senses ? lit(was, is.up) : flashed(was, is.heard, now)
    case 'network':
      return is.network === null ? was : lit(was, is.network)
    case 'waiting':
      return lit(was, is.waits())
  }
}

function lit(was: LampState, on: boolean): LampState {
  return was.on === on ? was : { ...was, on }
}

function flashed(was: LampState, heard: boolean, now: number): LampState {
  if (heard) return { ...was, on: true, due: clock32(now + FLASH_MS) }
  return was.due !== null && reached(now, was.due) ? { ...was, on: false, due: null } : was
}
