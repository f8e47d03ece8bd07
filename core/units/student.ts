/**
 * Student's t, two-sided 95 %: exact values for one to four degrees of freedom, beyond that the
 * expansion of Abramowitz and Stegun, Handbook of Mathematical Functions, 26.7.5, which is right to
 * 0.003 from five on.
 */
const SMALL = [Infinity, 12.706, 4.303, 3.182, 2.776]
const Z = 1.959964

/**
 * Student's t for 95 % on both sides (tabulated to 4 degrees, then Abramowitz and Stegun 26.7.5).
 */
export function t95(degrees: number): number {
  const exact = SMALL[degrees]
  if (exact !== undefined) return exact
  const z3 = Z ** 3
  const z5 = Z ** 5
  const z7 = Z ** 7
  return (
    Z
    + (z3 + Z) / (4 * degrees)
    + (5 * z5 + 16 * z3 + 3 * Z) / (96 * degrees ** 2)
    + (3 * z7 + 19 * z5 + 17 * z3 - 15 * Z) / (384 * degrees ** 3)
  )
}

/**
 * A mean and the interval that covers the true one in 95 % of such series; null where one value
 * says nothing about that.
 */
export interface Estimate {
  mean: number
  plusMinus: number | null
}

/** The mean and its 95 % interval; null for less than two values. */
export function estimate(values: readonly number[]): Estimate {
  const n = values.length
  const mean = n ? values.reduce((a, b) => a + b, 0) / n : 0
  if (n < 2) return { mean, plusMinus: null }
  const variance = values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (n - 1)
  return { mean, plusMinus: t95(n - 1) * Math.sqrt(variance / n) }
}
