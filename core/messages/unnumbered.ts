/**
 * Stands for `setpoints.ts` in the program of panel pages whose link says no numbers.
 */
import type { Codes, Link, Output } from '../design/schema'

/** No code holds a place for a number. */
export function numberCode(): string {
  return ''
}
/** The code of a value, or "". */
export function codeOf(_: Link, __: Output, { codes }: { codes: Codes }, value: string): string {
  return codes[value] ?? ''
}
/** No code. */
export function filled(): string {
  return ''
}
/** No number is said. */
export function setpointIn(): null {
  return null
}
/** Every value is a named one. */
export function sayable(_: Link, __: Output, ___: object, value: string): string {
  return value
}
