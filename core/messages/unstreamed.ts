/** Stands for `stream.ts` in the program of panel pages over HTTP, where messages come whole. */
export function readerOf(): null { return null }
export function feed(): { buffer: '', heard: [] } { return { buffer: '', heard: [] } }
