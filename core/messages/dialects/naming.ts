/** Names in codes: which are free, and how loads are called. */
import type { Codes, Load } from '../../design/schema'
import { spokenValues } from '../../design/values'

/** A code for each value of a load, in the order in which they are spoken. */
export function named(load: Load, codes: readonly string[]): Codes {
  return Object.fromEntries(spokenValues(load.output).map((value, i) => [value, codes[i] ?? '']))
}

/** Marks codes as taken. */
export function claim(codes: Codes, taken: Set<string>): Codes {
  for (const code of Object.values(codes)) taken.add(code)
  return codes
}

/** Neither starts with a code that is taken, nor is it the start of one. */
export function clear(code: string, taken: ReadonlySet<string>): boolean {
  for (const other of taken) if (other.startsWith(code) || code.startsWith(other)) return false
  return true
}

/** The first part of each load's id where no other has the same, else the whole of it. */
export function loadWords(loads: readonly Load[]): Map<string, string> {
  const short = (l: Load) => l.id.split('-')[0] ?? l.id
  return new Map(
    loads.map(l => [
      l.id,
      loads.some(o => o !== l && o.id !== l.id && (short(o) === short(l) || o.id === short(l)))
        ? l.id
        : short(l),
    ]),
  )
}
