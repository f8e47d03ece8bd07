/**
 * Stands for `sealing.ts` in the program of panel pages whose link asks for no proof: a third less
 * to keep in a small board.
 */
import type { Link } from '../design/schema'
import { wireOf } from '../design/wire'

/** No secret. */
export function practiceSecret(): string {
  return ''
}
/** A code as it goes over the wire, without a proof. */
export function sealedText(link: Link, code: string): string {
  return wireOf(link, code, 'command')
}
/** No bytes. */
export function signatureBytes(): number {
  return 0
}
/** No counter. */
export function counterIn(): null {
  return null
}
/** The first counter. */
export function firstCounter(): number {
  return 0
}
/** Nothing is counted. */
export function nextCount(): number {
  return 0
}
export const PRACTICE_TIME_S = 0
