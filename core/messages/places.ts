/**
 * Where numbers stand on a link: codes with a place for the value of a load, or for how many steps
 * are asked for.
 */
import type { Design, Link, Load, Message } from '../design/schema'
import type { Direction } from '../design/dialects/facet'
import { PLACE } from '../design/dialects/place'
import { speaksRoutes } from '../design/links/traits'
import { numbersOf, snapped } from '../design/values'
import { startedCode } from '../design/wire'
import { numberCode, stepsSaid, type NumberPlace } from './setpoints'
import { rows } from './table'

/**
 * A code that holds a place for a number: for the value of its load, 0 to `high`, or for how many
 * `step`s are asked for.
 */
export interface NumberCode {
  load: Load
  code: string
  step: 'up' | 'down' | null
  high: number
}
/** Steps that are looked at, where one message says several. */
const STEPS_SEEN = 99

/** Codes of a link that hold a place for a number, in row order of the sheet. */
export function numberCodes(design: Design, link: Link): NumberCode[] {
  return rows(design, link).flatMap(({ load, message }): NumberCode[] => {
    const code = numberCode(message)
    const high = numbersOf(load.output)?.high ?? 0
    return [
      ...(code === '' ? [] : [{ load, code, step: null, high }]),
      ...stepPlaces(message).map(place => ({ load, ...place, high: STEPS_SEEN })),
    ]
  })
}

/** What such a code says with a number in its place: a value, "up", "down:3". */
export function saidBy({ load, step }: NumberCode, number: number): string {
  if (step === null) return snapped(load.output, number)
  return stepsSaid(step, number)
}

/** Codes that hold a place for how many steps are asked for. */
function stepPlaces({ codes }: Message): { code: string; step: 'up' | 'down' }[] {
  return (['up', 'down'] as const).flatMap(step => {
    const code = codes[step] ?? ''
    return code.includes(PLACE) ? [{ code, step }] : []
  })
}

/**
 * By what numbers are known on a link, in one direction. Over HTTP a report says any value, whether
 * there is a code for numbers or not.
 */
export function numberPlaces(
  design: Design,
  link: Link,
  direction: Direction,
  index: ReadonlyMap<string, number>,
): NumberPlace[] {
  return rows(design, link).flatMap(({ load, message }) => {
    const told = direction === 'report' && speaksRoutes(link)
    const code = told ? `${load.id}=${PLACE}` : numberCode(message)
    const at = { load: index.get(load.id) as number, output: load.output }
    const fresh = direction === 'command' ? startedCode(link, code) : ''
    return [
      ...(code === '' || !numbersOf(load.output) ? [] : [{ ...at, code }]),
      ...(fresh === '' || !numbersOf(load.output)
        ? []
        : [{ ...at, code: fresh, fresh: true as const }]),
      ...(direction === 'report' ? [] : stepPlaces(message).map(place => ({ ...at, ...place }))),
    ]
  })
}
