/**
 * The values that a load can have, by the kind of its output. Their ids stand in codes, reports,
 * beliefs and documents: off and on, stop, forward and reverse, or a number. The first value is the
 * one at rest.
 */
import { ON_OFF, type Numbers, type PinLine } from './outputs/facet'
import { outputRow, valuesRow } from './outputs/rows'
import type { Load, Output, PanelKey } from './schema'

/** In rising order, rest first. */
export function valuesOf(output: Output): readonly string[] {
  return valuesRow(output).values(output)
}

/** In the order in which codes are listed: on before off, everything else as it rises. */
export function spokenValues(output: Output): readonly string[] {
  const values = valuesOf(output)
  return values === ON_OFF ? ['on', 'off'] : values
}

/** The value of an output at rest. */
export function restOf(output: Output): string {
  return valuesOf(output)[0] as string
}

/** What "on" means to a switch that has no value of its own: on, forward, the highest. */
export function fullOf(output: Output): string {
  return valuesRow(output).full ?? (valuesOf(output).at(-1) as string)
}

/**
 * The value asked for by a hand control or key, from the value there is ("" = not known). "toggle"
 * and "flip" go between rest and full, "up" and "down" end at the last value, "next" begins again.
 */
export function asked(output: Output, current: string, asks: string): string {
  const values = valuesOf(output)
  const at = placeOf(output, current)
  switch (asks) {
    case 'toggle':
    case 'flip':
      return current === values[0] || at < 0 ? fullOf(output) : (values[0] as string)
    case 'next':
      return values[(at + 1) % values.length] as string
    case 'up':
      return values[Math.min(at + 1, values.length - 1)] as string
    case 'down':
      // From between two values to the lower of them.
      return values[Math.max(values[at] === current ? at - 1 : at, 0)] as string
    default:
      return asks
  }
}

/** Index of a value, or of the last one below a number between two; -1 = not known. */
function placeOf(output: Output, value: string): number {
  const values = valuesOf(output)
  const at = values.indexOf(value)
  return at < 0 && isNumbered(output, value)
    ? values.findLastIndex(v => Number(v) < Number(value))
    : at
}

/** The numbers that can be asked for; null where the values are none. */
export function numbersOf(output: Output): Numbers | null {
  return valuesRow(output).numbers?.(output) ?? null
}

/** Whether there are numbers beside the named values. */
export function isFine(output: Output): boolean {
  const { high = 0, step = null } = numbersOf(output) ?? {}
  if (step === null) return false
  const named = valuesOf(output)
  for (let number = step; number <= high; number += step)
    if (!named.includes(String(number))) return true
  return false
}

/**
 * The value for a number: the nearest that there is, so what lies beyond an end is the end. Of two
 * that are as near the lower one.
 */
export function snapped(output: Output, wanted: number): string {
  const named = nearestValue(output, wanted)
  const { step, high } = numbersOf(output) ?? { step: null, high: 0 }
  if (step === null) return named
  const low = Math.max(0, Math.min(Math.ceil(wanted / step - 0.5) * step, high - (high % step)))
  const [off, offNamed] = [Math.abs(low - wanted), Math.abs(Number(named) - wanted)]
  return off < offNamed || (off === offNamed && low < Number(named)) ? String(low) : named
}

/** Is this a value that the output can have: a named one or a number. */
export function isValue(output: Output, value: string): boolean {
  return valuesOf(output).includes(value) || isNumbered(output, value)
}

function isNumbered(output: Output, value: string): boolean {
  return (
    /^\d{1,6}$/.test(value)
    && numbersOf(output) !== null
    && snapped(output, Number(value)) === value
  )
}

/** Value in an HTTP report: 1 and 0 for on and off, else its id. */
export function reportWord(output: Output, value: string): string {
  if (valuesOf(output) !== ON_OFF) return value
  return value === 'on' ? '1' : '0'
}

/** A value in words: "on", "reverse", "50 %", "position 3". */
export function valueWords(output: Output, value: string): string {
  return valuesRow(output).valueWords?.(value, output) ?? value
}

/** How much of a ribbon is inked for a value: 0 at rest, 1 at full; a direction takes one half. */
export function shareOf(output: Output, value: string): number {
  const values = valuesOf(output)
  const share = valuesRow(output).share?.(value, output)
  // What is no number of it ("unknown") inks nothing.
  if (share !== undefined) return Number.isFinite(share) ? share : 0
  return Math.max(0, values.indexOf(value)) / (values.length - 1)
}

/** The pins that an output drives, in a fixed order: effects and sketches count by it. */
export function linesOf(output: Output): PinLine[] {
  return outputRow(output).lines(output)
}

/** Forms of panel keys that fit a kind of output, the first by default. */
export function formsOf(output: Output): readonly PanelKey['form'][] {
  return outputRow(output).forms(output)
}

/**
 * What the keys of a form ask for, in the order in which they stand. A fader and a typed number ask
 * for any value.
 */
export function wantsOf(output: Output, form: PanelKey['form']): readonly string[] {
  return FORM_WANTS[form] ?? valuesRow(output).eachKey ?? valuesOf(output)
}
const FORM_WANTS: Partial<Record<PanelKey['form'], readonly string[]>> = {
  pair: ['on', 'off'],
  state: ['flip'],
  trigger: ['on'],
  hold: ['on', 'off'],
  stepper: ['down', 'up'],
  timer: ['after', 'for', 'blink', 'off'],
  shown: [],
}

/** A key of a panel or box. `asks`: what it asks for, where that is not all of its form. */
interface KeyOn {
  loadId: string
  form: PanelKey['form']
  asks?: readonly string[] | null
}
/**
 * What the keys of a surface ask a load for, all of them; one that is not placed yet is judged as
 * if it had its first form.
 */
export function wantsOn(keys: readonly KeyOn[], load: Pick<Load, 'id' | 'output'>): string[] {
  const placed = keys.filter(k => k.loadId === load.id)
  const first = formsOf(load.output)
    .slice(0, 1)
    .map((form): KeyOn => ({ loadId: load.id, form }))
  return [
    ...new Set(
      (placed.length ? placed : first).flatMap(k => k.asks ?? wantsOf(load.output, k.form)),
    ),
  ]
}

/** The value of a load that comes nearest to a number. */
export function nearestValue(output: Output, wanted: number): string {
  return valuesOf(output).reduce((best, v) =>
    Math.abs(Number(v) - wanted) < Math.abs(Number(best) - wanted) ? v : best,
  )
}

/** What a code can ask for beside a value. */
export function relativeOf(output: Output): string[] {
  if (!outputRow(output).relative) return []
  return [
    ...asksOf(output, 'push').filter(a => !valuesOf(output).includes(a)),
    ...(numbersOf(output) ? [NUMBER] : []),
  ]
}

/** What a code asks for that holds a place for a number. */
export const NUMBER = 'number'

/** What a hand control can ask of an output. */
export function asksOf(output: Output, kind: 'push' | 'latching'): readonly string[] {
  return outputRow(output).asks(output, kind)
}
