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
/** No CRC is known here. */
export function crcNamed(): null {
  return null
}
/** No bytes. */
export function crcBytes(): number[] {
  return []
}
/** No bytes. */
export function frame(): Uint8Array {
  return new Uint8Array()
}
/** Nothing is placed. */
export function layout(): { placed: []; size: 0 } {
  return { placed: [], size: 0 }
}
/** No bytes. */
export function pack(): Uint8Array {
  return new Uint8Array()
}
/** Holds nothing. */
export function unpack(): null {
  return null
}
