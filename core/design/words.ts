import type { Danger } from './schema'

/** What can hurt somebody, as it stands beside a load. */
export const DANGER_WORDS: Readonly<Record<Danger, string>> = {
  heat: 'heat',
  gas: 'gas',
  motion: 'motion',
  lock: 'a lock',
  water: 'water',
}

/** What each kind is called, of a table of rows by kind. */
export function wordsByKind<K extends string>(
  rows: Readonly<Record<K, { words: string }>>,
): Record<K, string> {
  const words = (Object.keys(rows) as K[]).map(kind => [kind, rows[kind].words])
  return Object.fromEntries(words) as Record<K, string>
}
