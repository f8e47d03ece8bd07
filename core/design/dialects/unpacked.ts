/**
 * Stands for `packed.ts` in the program of panel pages whose link has no structures.
 */
export { textWire as packedWire } from './text'

/** No row is asked for. */
export const packed = undefined
export const KINDS = {}
/** No code. */
export function packedCode(): string {
  return ''
}
/** No frame. */
export function framed(): string {
  return ''
}
/** No frame. */
export function unframed(): null {
  return null
}
