/** Values and wishes as the engine counts them (engine/values.h). */
import type { Output } from '../../design/schema'
import { stepsIn } from '../../design/steps'
import { numbersOf, valuesOf } from '../../design/values'

/** A value as a number: that of a level or position, else its place among the values. */
export function valueNumber(output: Output, value: string): number {
  return numbersOf(output) ? Number(value) : valuesOf(output).indexOf(value)
}

/** The value that the engine knows by a number. */
export function numberedValue(output: Output, number: number): string {
  return numbersOf(output) ? String(number) : (valuesOf(output)[number] ?? '')
}

const ASKS = {
  value: 0,
  toggle: 1,
  flip: 1,
  next: 2,
  steps: 3,
  after: 4,
  for: 5,
  blink: 6,
} as const

type Part = readonly [1 | 2 | 4, number]

/** What is asked for: its kind, a value or steps, a time in ms (0 = that of the design). */
export function askParts(output: Output, asks: string): Part[] {
  const [step, times] = stepsIn(asks)
  if (step !== null) return parts(ASKS.steps, step === 'up' ? times : -times, 0)
  const [word = '', ms = '0'] = asks.split(':')
  if (word === 'after' || word === 'for' || word === 'blink')
    return parts(ASKS[word], 0, Number(ms))
  if (word === 'toggle' || word === 'flip' || word === 'next') return parts(ASKS[word], 0, 0)
  return parts(ASKS.value, valueNumber(output, asks), 0)
}

function parts(kind: number, value: number, ms: number): Part[] {
  return [
    [1, kind],
    [2, value],
    [4, ms],
  ]
}
