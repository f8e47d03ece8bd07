/** Stands for `stream.ts` in the program of panel pages over HTTP, where messages come whole. */
export function readerOf(): null {
  return null
}
/** Nothing is heard as a stream. */
export function feedAll(): { buffer: ''; heard: [] } {
  return { buffer: '', heard: [] }
}
