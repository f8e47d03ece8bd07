/** Signs of life of a stream that stays open. */
import type { Link } from './schema'

/**
 * How often an open stream gives a sign of life, ms: three in the time after which its listener
 * takes the link for lost, so that one may be late and one may fall away.
 */
export function aliveMs({ timing }: Link): number {
  return Math.max(LEAST_ALIVE_MS, Math.floor(timing.dropDetectMs / 3))
}

/** How long a listener hears nothing until it takes the link for lost, ms. */
export function silenceMs(link: Link): number {
  return Math.max(3 * aliveMs(link), link.timing.dropDetectMs)
}
const LEAST_ALIVE_MS = 200
/** Event of a stream that says nothing but that somebody is there. */
export const ALIVE_EVENT = 'alive'
