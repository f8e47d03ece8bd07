/**
 * Lamps that nobody switches: they show a link, the network, or that something is waited for.
 */
import { clock32, reached } from '../units/clock'
import { waits } from './outputs/rows'
import type { Program, ProgramLamp } from './program'
import { DARK, type ControllerEvent, type ControllerState, type LampState } from './state'

/** How long a lamp of a link without a connection is lit by a message, ms. */
export const FLASH_MS = 100

/** A lamp after an event, of which `state` is what came of it. */
export function lampAfter(
  { lamp, links }: ProgramLamp,
  was: LampState,
  event: ControllerEvent,
  program: Program,
  state: ControllerState,
): LampState {
  if (!state.running) return was === DARK ? was : DARK
  switch (lamp.shows) {
    case 'link':
      return links.some(link => program.links[link]?.senses)
        ? lit(
            was,
            links.some(link => state.links[link]?.up),
          )
        : flashed(was, event.kind === 'received' && links.includes(event.link), state.now)
    case 'network':
      return event.kind === 'network' ? lit(was, event.up) : was
    case 'waiting':
      return lit(
        was,
        program.loads.some(({ output }, i) =>
          waits(output, { value: state.value[i] as string, motion: state.motion[i] ?? null }),
        ),
      )
  }
}

/** What a lamp on a box may show after an event. */
export interface BoxNow {
  boots: boolean
  /** Whether its board is in its network, where that was just said. */
  network: boolean | null
  /** Whether its link is there, and whether that can be known at all. */
  up: boolean
  senses: boolean
  heard: boolean
  /** An answer is waited for. */
  waits: boolean
}

/** The same for the lamp of a box. `isIts`: the link that it shows is that of the box. */
export function boxLampAfter(
  { shows }: ProgramLamp['lamp'],
  isIts: boolean,
  was: LampState,
  is: BoxNow,
  now: number,
): LampState {
  switch (shows) {
    case 'link':
      if (!isIts) return was
      return is.senses ? lit(was, is.up) : flashed(was, is.heard, now)
    case 'network':
      return is.network === null ? was : lit(was, is.network)
    case 'waiting':
      return lit(was, is.waits)
  }
}

function lit(was: LampState, on: boolean): LampState {
  return was.on === on ? was : { ...was, on }
}

function flashed(was: LampState, heard: boolean, now: number): LampState {
  if (heard) return { ...was, on: true, due: clock32(now + FLASH_MS) }
  return was.due !== null && reached(now, was.due) ? { ...was, on: false, due: null } : was
}
