/**
 * Comma-separated values (RFC 4180). A text that a spreadsheet would take for a formula gets a
 * leading apostrophe.
 */
import Papa from 'papaparse'

/** Rows as CSV (RFC 4180). Cells that a spreadsheet would take for a formula are made text. */
export function csv(
  fields: readonly string[],
  rows: readonly (readonly (string | number)[])[],
): string {
  const guarded = (cell: string | number) =>
    typeof cell === 'string' && /^[=+\-@\t]/.test(cell) ? `'${cell}` : cell
  return (
    Papa.unparse({ fields: [...fields], data: rows.map(r => r.map(guarded)) }, { newline: '\r\n' })
    + '\r\n'
  )
}
