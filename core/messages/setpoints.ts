/**
 * Set-points: a value as a number within a message, "lamp {value}". One code stands for all numbers
 * of a load, in both directions; named values that have no code of their own go by it too. What
 * lies beyond an end, or between two steps, is taken as the nearest (docs/behaviour.md). Short
 * codes have no room for a number.
 */
import { wireRow } from '../design/dialects/rows'
import { numberAt, PLACE, putIn } from '../design/dialects/place'
import { maybeMessage } from '../design/find'
import { inOrder } from '../design/links/parameters'
import { speaksBytes } from '../design/links/traits'
import type { Codes, HttpLink, Link, Output } from '../design/schema'
import {
  isFine,
  isValue,
  nearestValue,
  NUMBER,
  numbersOf,
  snapped,
  valuesOf,
} from '../design/values'
import { bodyOf } from '../design/wire'
import type { Direction } from '../design/dialects/facet'
import type { Numbers } from '../design/outputs/facet'
import { stepsIn } from '../design/steps'

/** What has codes: a message, or what is to become one. */
interface Coded {
  codes: Codes
}

/** The code that holds a place for a number; "" where there is none. */
export function numberCode({ codes }: Coded): string {
  return codes[NUMBER] ?? ''
}

/** Whether a code of it holds a place for a number. */
export function hasPlaces(message: Coded): boolean {
  return (
    numberCode(message) !== ''
    || Object.values(message.codes).some(code => code?.includes(PLACE) === true)
  )
}

/** Whether one message can say several steps up and several down: their codes hold a place. */
export function saysSteps({ codes }: Coded): boolean {
  return [codes.up, codes.down].every(code => code?.includes(PLACE) === true)
}

/** The code for a value: its own, or the one for numbers with it; "" where nothing says it. */
export function codeOf(link: Link, output: Output, message: Coded, value: string): string {
  const [step, times] = stepsIn(value)
  if (step !== null) return stepCode(link, message.codes[step] ?? '', times)
  const own = message.codes[value] ?? ''
  const code = numberCode(message)
  return own === '' && code !== '' && numbersOf(output) && isValue(output, value)
    ? filled(link, code, Number(value))
    : own
}

/** "" where several steps have no place in the code. */
function stepCode(link: Link, code: string, times: number): string {
  if (code.includes(PLACE)) return filled(link, code, times)
  return times === 1 ? code : ''
}

/** The numbers that a link can say of an output beside its named values; null for none. */
export function numbersSaid(output: Output, message: Coded | undefined): Numbers | null {
  return message && numberCode(message) !== '' && isFine(output) ? numbersOf(output) : null
}

/** Whether a named value has no code of its own: the one for numbers stands for it. */
export function goesByNumber(link: Link, loadId: string | null, value: string | null): boolean {
  const message = loadId === null ? undefined : maybeMessage(link, loadId)
  return message !== undefined && numberCode(message) !== '' && !message.codes[value ?? '']
}

/** A code with a number in its place; "" where the link has no room for one. */
export function filled(link: Link, code: string, number: number): string {
  return speaksBytes(link)
    ? wireRow(link.dialect).put(link.dialect, code, number)
    : putIn(code, number)
}

/** The number that a body says by a code; null where it says none. */
export function numberSaid(
  link: Link,
  code: string,
  body: string,
  direction: Direction,
): number | null {
  if (code === '') return null
  if (!speaksBytes(link)) return routeNumber(link, code, body)
  const place = bodyOf(link, code, direction)
  return wireRow(link.dialect).number(link.dialect, place, body)
}

/** As the board matches routes: by the beginning a longer number counts too. */
function routeNumber({ matching }: HttpLink, code: string, route: string): number | null {
  if (matching === 'exact') return numberAt(inOrder(code), inOrder(route))
  const [head = '', tail = ''] = code.split(PLACE)
  const start = route.indexOf(head)
  if (start < 0 || (start > 0 && matching === 'prefix')) return null
  const [digits] = /^-?\d{1,6}/.exec(route.slice(start + head.length)) ?? ['']
  return digits !== '' && route.startsWith(tail, start + head.length + digits.length)
    ? Number(digits)
    : null
}

/**
 * A load that is told by numbers: its index, its output, and the code for them. `step`: they count
 * steps; a negative number of them goes the other way.
 */
export interface NumberPlace {
  load: number
  output: Output
  code: string
  step?: 'up' | 'down'
  /** Said by a sender that has just started. */
  fresh?: true
}

/** The value that a body says by one of the places; the first that fits. */
export function setpointIn(
  places: readonly NumberPlace[],
  link: Link,
  body: string,
  direction: Direction,
): { load: number; value: string; fresh?: true } | null {
  for (const { load, output, code, step, fresh } of places) {
    const number = numberSaid(link, code, body, direction)
    if (number === null) continue
    const value = step ? stepsSaid(step, number) : snapped(output, number)
    return fresh ? { load, value, fresh } : { load, value }
  }
  return null
}

/** So many steps in one message at most; more are taken as so many. */
const MOST_STEPS = 9999

/** "up", "down:3": so many steps, a negative number of them the other way. */
export function stepsSaid(step: 'up' | 'down', number: number): string {
  const times = Math.min(Math.abs(number), MOST_STEPS)
  const way = number < 0 ? OTHER_WAY[step] : step
  return times === 1 ? way : `${way}:${times}`
}
const OTHER_WAY = { up: 'down', down: 'up' } as const

/**
 * What can be said of a value on a link: itself, or the named value that comes nearest, where there
 * is no code for numbers.
 */
export function sayable(link: Link, output: Output, message: Coded, value: string): string {
  const said = valuesOf(output).includes(value) || codeOf(link, output, message, value) !== ''
  return said || !isValue(output, value) ? value : nearestValue(output, Number(value))
}
