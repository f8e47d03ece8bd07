/**
 * Quantities as makers type and read them: "4k7", "4.7 kΩ", "120mA". Prefixes of the SI; letter
 * codes for values of resistors and capacitors (4k7, 2R2, 4n7) of IEC 60062.
 */
export type Unit =
  | 'V'
  | 'A'
  | 'Ω'
  | 'W'
  | 'F'
  | 'H'
  | 's'
  | 'Hz'
  | 'm'
  | 'mm²'
  | '°C'
  | 'K/W'
  | 'Ah'
  | 'J'
  | 'C'
  | '%'
  | '×'
  | ''

const PREFIX: Record<string, number> = {
  p: 1e-12,
  n: 1e-9,
  µ: 1e-6,
  μ: 1e-6,
  u: 1e-6,
  m: 1e-3,
  '': 1,
  k: 1e3,
  K: 1e3,
  M: 1e6,
  G: 1e9,
}
/** Other spellings of a unit that people type. */
const SPELT: Partial<Record<Unit, string[]>> = {
  Ω: ['ohm', 'ohms', 'R', 'Ω', 'Ω'],
  s: ['s', 'sec'],
  'mm²': ['mm2', 'mm²'],
  '°C': ['C', '°C'],
  '×': ['x', '×'],
}
/** Units that take no prefix. */
const BARE: readonly Unit[] = ['mm²', '°C', 'K/W', '%', '×', '']

export class BadQuantity extends Error {}

/** The value in the plain unit. Throws `BadQuantity` with what was expected. */
export function parseQuantity(text: string, unit: Unit): number {
  const tidy = text.trim().replace(',', '.')
  const coded = /^(\d+)([pnuµmRkKMG])(\d+)$/.exec(tidy)
  if (coded && (unit === 'Ω' || unit === 'F' || unit === 'H'))
    return (
      Number(`${coded[1]}.${coded[3]}`) * (coded[2] === 'R' ? 1 : (PREFIX[coded[2] ?? ''] ?? 1))
    )
  const plain = /^([-+]?\d*\.?\d+(?:[eE][-+]?\d+)?)\s*(.*)$/.exec(tidy)
  if (!plain)
    throw new BadQuantity(`"${text}" is not a number with a unit; write it like ${example(unit)}`)
  const value = Number(plain[1])
  const rest = (plain[2] ?? '').trim()
  if (rest === '') return value
  const spellings = [unit, ...(SPELT[unit] ?? [])].filter(Boolean)
  if (spellings.includes(rest)) return value
  if (!BARE.includes(unit)) {
    const factor = PREFIX[rest.charAt(0)]
    const after = rest.slice(1).trim()
    if (factor !== undefined && (after === '' || spellings.includes(after))) return value * factor
  }
  throw new BadQuantity(
    `"${rest}" is not the unit here; ${unit || 'a plain number'} is expected, such as ${example(unit)}`,
  )
}

function example(unit: Unit): string {
  const usual: Partial<Record<Unit, string>> = { Ω: '4k7 or 4.7 kΩ', A: '120 mA', F: '100 nF' }
  return usual[unit] ?? `12 ${unit}`.trim()
}

const STEPS: [number, string][] = [
  [1e9, 'G'],
  [1e6, 'M'],
  [1e3, 'k'],
  [1, ''],
  [1e-3, 'm'],
  [1e-6, 'µ'],
  [1e-9, 'n'],
  [1e-12, 'p'],
]

/** Three significant digits with the fitting prefix: 0.0714 A reads "71.4 mA". */
export function showQuantity(value: number, unit: Unit): string {
  if (!Number.isFinite(value)) return value > 0 ? `no limit` : '-'
  if (BARE.includes(unit))
    return `${digits(value)}${unit === '%' || unit === '' ? unit : ` ${unit}`}`
  // Rounded first, so that 999.96 mA becomes 1 A, not 1000 mA.
  const rounded = Number(value.toPrecision(3))
  const [factor, prefix] = STEPS.find(([f]) => Math.abs(rounded) >= f) ?? [1, '']
  return `${digits(rounded / factor)} ${prefix}${unit}`
}

function digits(value: number): string {
  const rounded = Number(value.toPrecision(3))
  return Math.abs(rounded) >= 1000 ? String(Math.round(value)) : String(rounded)
}
