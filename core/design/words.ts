/** What each kind is called, of a table of rows by kind. */
export function wordsByKind<K extends string>(
  rows: Readonly<Record<K, { words: string }>>,
): Record<K, string> {
  const words = (Object.keys(rows) as K[]).map(kind => [kind, rows[kind].words])
  return Object.fromEntries(words) as Record<K, string>
}
