/**
 * Stands for structures, frames and checks in the program of panel pages whose link has none: less
 * to keep in a small board.
 */
export class BadStructure extends Error {}
export class Deframer {
  push(): null {
    return null
  }
}
export const SLIP = { END: 0xc0 }
export const CRCS: readonly { name: string }[] = []
export const FIELD_TYPES = {}
export function crcNamed(): null {
  return null
}
export function crcBytes(): number[] {
  return []
}
export function frame(): Uint8Array {
  return new Uint8Array()
}
export function layout(): { placed: []; size: 0 } {
  return { placed: [], size: 0 }
}
export function pack(): Uint8Array {
  return new Uint8Array()
}
