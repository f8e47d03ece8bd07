/** Bytes as they stand in the text of a program, with what is where in words. */
import { cppComment } from '../escape'

const A_LINE = 16

/** Lines of an array, each with a comma behind its last byte. */
export function byteLines(
  bytes: Uint8Array,
  notes: ReadonlyMap<number, string> = new Map(),
): string[] {
  const lines: string[] = []
  for (let at = 0; at < bytes.length;) {
    const note = notes.get(at)
    if (note !== undefined) lines.push(`        // ${cppComment(note)}`)
    let end = at + 1
    while (end < bytes.length && end < at + A_LINE && !notes.has(end)) end++
    lines.push(`        ${[...bytes.slice(at, end)].map(b => `${b},`).join(' ')}`)
    at = end
  }
  return lines
}
