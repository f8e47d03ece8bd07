/**
 * What every electrical sum returns: each figure with its formula and unit, what it is held
 * against, and the source. All inputs are in plain SI units named in the key (Volts, Ohms, Amps
 * ...); a value outside the physically sensible range is refused with its place and the range.
 */
import { showQuantity, type Unit } from '../units/quantity'

export interface Figure {
  /** As in the formula: "Rb". */
  symbol: string
  words: string
  value: number
  unit: Unit
  /** How it is computed, with the symbols of the other figures and inputs. */
  formula: string
}
export interface Limit {
  words: string
  /** Used over allowed: 0.8 means 80 % of what is allowed. */
  used: number
  ok: boolean
  /** What to do where it is not. */
  wayOut: string
}
export interface Sum {
  figures: Figure[]
  limits: Limit[]
  ok: boolean
  source: string
  cautions: string[]
}

export class BadInput extends Error {
  constructor(
    readonly path: string,
    message: string,
  ) {
    super(message)
  }
}

export interface Range {
  min: number
  max: number
  unit: Unit
  words: string
}
export type Ranges<T> = { [K in keyof T]-?: Range }

/** The inputs, or `BadInput` that names the first value out of its range. */
export function inRange<T extends object>(inputs: T, ranges: Ranges<T>): T {
  for (const key of Object.keys(ranges) as (keyof T & string)[]) {
    const { min, max, unit, words } = ranges[key]
    const value = inputs[key] as unknown
    if (typeof value !== 'number' || !Number.isFinite(value))
      throw new BadInput(key, `${words}: a number in ${unit || 'plain units'} is needed`)
    if (value < min || value > max)
      throw new BadInput(
        key,
        `${words}: ${showQuantity(value, unit)} cannot be; it lies between ${showQuantity(min, unit)} and ${showQuantity(max, unit)}`,
      )
  }
  return inputs
}

export const range = (words: string, unit: Unit, min: number, max: number): Range => ({
  words,
  unit,
  min,
  max,
})

/** One figure of a sum, with its unit and formula. */
export function figure(
  symbol: string,
  words: string,
  value: number,
  unit: Unit,
  formula: string,
): Figure {
  return { symbol, words, value, unit, formula }
}

/** `used` is how much of the allowed is taken; at most 1 is in order. */
export function limit(words: string, used: number, wayOut: string): Limit {
  return { words, used, ok: used <= 1 + 1e-9, wayOut }
}

/** A sum: it is well when all limits are kept. */
export function sum(
  figures: Figure[],
  limits: Limit[],
  source: string,
  cautions: string[] = [],
): Sum {
  return { figures, limits, ok: limits.every(l => l.ok), source, cautions }
}

/** A figure by its symbol, for tests and for what builds on it. */
export function valueOf(of: Sum, symbol: string): number {
  const found = of.figures.find(f => f.symbol === symbol)
  if (!found) throw new RangeError(`no figure "${symbol}"`)
  return found.value
}
