/** Preferred numbers of resistors and capacitors: E12 and E24 of IEC 60063. */
const E24 = [
  10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91,
] as const
const E12 = E24.filter((_, i) => i % 2 === 0)

export type Series = 'E12' | 'E24'
const SERIES: Record<Series, readonly number[]> = { E12, E24 }
/** Tolerance that goes with a series: 10 % and 5 %. */
export const SERIES_TOLERANCE: Record<Series, number> = { E12: 0.1, E24: 0.05 }

/** The largest preferred value at or below `value` (> 0). */
export function preferredBelow(value: number, series: Series = 'E24'): number {
  return pick(value, series, list => list.findLast(v => v <= value * (1 + EPSILON)))
}

/** The smallest preferred value at or above `value` (> 0). */
export function preferredAbove(value: number, series: Series = 'E24'): number {
  return pick(value, series, list => list.find(v => v >= value * (1 - EPSILON)))
}

/** The nearest by ratio; of two equally near the larger. */
export function preferredNear(value: number, series: Series = 'E24'): number {
  const low = preferredBelow(value, series)
  const high = preferredAbove(value, series)
  return value / low < high / value ? low : high
}

/** A computed value may miss a preferred one by rounding only. */
const EPSILON = 1e-9

function pick(
  value: number,
  series: Series,
  choose: (list: number[]) => number | undefined,
): number {
  if (!(value > 0) || !Number.isFinite(value))
    throw new RangeError(`a preferred value needs a positive number, not ${value}`)
  const decade = Math.floor(Math.log10(value))
  const around = [-1, 0, 1].flatMap(d => SERIES[series].map(v => round(v * 10 ** (decade + d - 1))))
  return choose(around) as number
}

/** Two digits and a power of ten, without the dust of binary fractions. */
function round(value: number): number {
  return Number(value.toPrecision(4))
}
