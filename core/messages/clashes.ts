/**
 * Codes that cannot be told apart on their link. With the shortest-match decoder of `stream.ts`,
 * duplicates and prefixes are exactly the codes that are never understood as meant (tested against
 * brute force).
 */
import type { Design, Link, Output, HttpLink } from '../design/schema'
import { loadOf } from '../design/find'
import { seconds } from '../units/format'
import { isFine, isValue, NUMBER, numbersOf, valuesOf, valueWords } from '../design/values'
import { isTimed } from '../design/outputs/timed'
import { bodyOf, hasBareCodes } from '../design/wire'
import { filled, goesByNumber, numberCode, numberSaid } from './setpoints'
import { commands, helloCode, sceneCodes } from './table'
import { numberCodes, saidBy, type NumberCode } from './places'
import { isPulse, timersOf } from '../design/outputs/traits'
import { speaksRoutes } from '../design/links/traits'
import { inOrder } from '../design/links/parameters'
import { markOf } from './dialects/rows'
import { stepsIn } from '../design/steps'
import { nth } from '../units/lists'

export interface CodeUse {
  code: string
  loadId: string | null
  what: string
  value: string | null
}
export type Clash =
  | { kind: 'duplicate'; code: string; uses: [CodeUse, CodeUse] }
  | { kind: 'prefix'; short: CodeUse; long: CodeUse }
  | { kind: 'mark'; mark: string; use: CodeUse }
  | { kind: 'empty'; loadId: string; value: string }

/** Found once for each version of a design: sheet, proof and findings all ask for them. */
const found = new WeakMap<Design, Map<Link, readonly Clash[]>>()

/** Codes of a link that can be mistaken for one another, and values that have none. */
export function clashes(design: Design, link: Link): readonly Clash[] {
  const ofDesign = found.get(design) ?? new Map<Link, readonly Clash[]>()
  found.set(design, ofDesign)
  const known = ofDesign.get(link) ?? find(design, link)
  ofDesign.set(link, known)
  return known
}

function find(design: Design, link: Link): Clash[] {
  const uses = codeUses(design, link).filter(use => !goesByNumber(link, use.loadId, use.value))
  const bare = hasBareCodes(link)
  const found: Clash[] = []
  const bodies = uses.map(u => {
    if (bare) return u.code
    const body = bodyOf(link, u.code, 'command')
    return speaksRoutes(link) ? inOrder(body) : body
  })
  for (const [i, a] of uses.entries()) {
    const body = nth(bodies, i)
    for (let j = i + 1; j < uses.length; j++) {
      const b = nth(uses, j)
      if (body === bodies[j]) found.push({ kind: 'duplicate', code: a.code, uses: [a, b] })
      else if (bare && b.code.startsWith(a.code)) found.push({ kind: 'prefix', short: a, long: b })
      else if (bare && a.code.startsWith(b.code)) found.push({ kind: 'prefix', short: b, long: a })
    }
    const mark = markOf(link)
    if (bare && a.code.startsWith(mark)) found.push({ kind: 'mark', mark, use: a })
  }
  found.push(...numberClashes(design, link, uses, bodies))
  for (const m of link.messages) {
    // A pulse ends by itself, and a link that only toggles needs no code for on or off: what it
    // lacks is told where it matters.
    const { output } = loadOf(design, m.loadId)
    const needless = (value: string) =>
      (isPulse(output) && value === 'off')
      || ((m.codes as Record<string, string | undefined>).toggle ?? '') !== ''
      || numberCode(m) !== ''
    for (const [value, code] of Object.entries(m.codes))
      if (code === '' && !needless(value)) found.push({ kind: 'empty', loadId: m.loadId, value })
  }
  return found
}

/**
 * Codes that a code for numbers says too: another load's, or another value's of its own. Of two
 * codes for numbers one is tried with what the other says at its ends, at one digit and at two.
 */
function numberClashes(
  design: Design,
  link: Link,
  uses: readonly CodeUse[],
  bodies: readonly string[],
): Clash[] {
  const places = numberCodes(design, link).map(of => ({
    ...of,
    of,
    use: {
      code: of.code,
      loadId: of.load.id,
      what: of.step ? `${of.load.name} ${of.step} by a number` : `${of.load.name} at a number`,
      value: of.step ?? NUMBER,
    },
  }))
  return places.flatMap(({ load, code, high, use, of }, i): Clash[] => {
    const says = (body: string) => {
      const number = numberSaid(link, code, body, 'command')
      return number !== null && number >= 0 && number <= high ? saidBy(of, number) : null
    }
    const fixed = uses.flatMap((other, at): Clash[] => {
      const value = says(nth(bodies, at))
      return value === null || (other.loadId === load.id && other.value === value)
        ? []
        : [{ kind: 'duplicate', code: other.code, uses: [other, use] }]
    })
    const numbers = places.slice(i + 1).flatMap((other): Clash[] => {
      const both = [0, 1, 9, 10, 99, other.high].some(
        n => n <= other.high && says(bodyOf(link, filled(link, other.code, n), 'command')) !== null,
      )
      return both ? [{ kind: 'duplicate', code, uses: [use, other.use] }] : []
    })
    return [...fixed, ...numbers]
  })
}

function routesOfReadings(design: Design, link: HttpLink): CodeUse[] {
  return link.readings.flatMap(({ route, sensorId }) =>
    route === ''
      ? []
      : [
          {
            code: route,
            loadId: null,
            what: `ask for ${design.sensors.find(s => s.id === sensorId)?.name ?? sensorId}`,
            value: null,
          },
        ],
  )
}

/** Every code the controller listens to on a link, the question for the state included. */
export function codeUses(design: Design, link: Link): CodeUse[] {
  const own: CodeUse[] = speaksRoutes(link)
    ? [
        { code: link.askRoute, loadId: null, what: 'ask for the state', value: null },
        { code: link.eventsRoute, loadId: null, what: 'stream of reports', value: null },
        ...routesOfReadings(design, link),
        ...(link.page
          ? [{ code: link.page.route, loadId: null, what: 'page of the board', value: null }]
          : []),
      ]
    : [{ code: link.askCode, loadId: null, what: 'ask for the state', value: null }]
  const hello = helloCode(link)
  if (hello !== '') own.push({ code: hello, loadId: null, what: 'ask who is there', value: null })
  own.unshift(
    ...sceneCodes(design, link).map(({ scene, code }) => ({
      code,
      loadId: null,
      what: `scene ${scene.name}`,
      value: null,
    })),
  )
  return [
    ...commands(design, link).map(c => ({
      code: c.code,
      loadId: c.loadId,
      what: commandWords(design, c.loadId, c.value),
      value: c.value,
    })),
    ...own,
  ]
}

/**
 * What a code tells the load, for labels: "Booth extractor on", "Roof vent reverse", "Show lamp 50
 * %".
 */
export function commandWords(design: Design, loadId: string, value: string): string {
  const { name, output } = loadOf(design, loadId)
  return `${name} ${isValue(output, value) ? valueWords(output, value) : wishWords(output, value)}`
}

/** "for 3 s", "after 5 s", "blink": what is asked for beside a value. */
function wishWords(output: Output, wish: string): string {
  const [asks = '', given] = wish.split(':')
  const [step, n] = stepsIn(wish)
  if (step !== null) return n === 1 ? step : `${step} by ${n}`
  const timers = timersOf(output)
  if (!timers || !isTimed(asks)) return wish
  const times = { after: timers.onDelayMs, for: timers.offDelayMs, blink: timers.blinkMs }
  const time = seconds(given === undefined ? times[asks] : Number(given))
  const words = { after: `on after ${time}`, for: `on for ${time}`, blink: `blinks, ${time} each` }
  return words[asks]
}

/** What a code asks for, in a word or two: "50 %", "number", "toggle". */
export function wishLabel(output: Output, which: string): string {
  if (which === NUMBER) return 'number'
  return isValue(output, which) ? valueWords(output, which) : which
}

/** What a code for numbers tells: "Show lamp at 0 to 100 %". */
export function numberWords({ load: { name, output }, step: way }: NumberCode): string {
  if (way !== null) return `${name} ${way} by a number of steps`
  const { high = 0, step = null } = numbersOf(output) ?? {}
  const steps = isFine(output)
    ? `in steps of ${step}`
    : `the nearest of ${valuesOf(output).length} named ones`
  return `${name} at 0 to ${valueWords(output, String(high))}, ${steps}`
}

/** A clash as a sentence. */
export function clashWords(clash: Clash): string {
  switch (clash.kind) {
    case 'duplicate':
      return `"${clash.code}" says both ${clash.uses[0].what} and ${clash.uses[1].what}`
    case 'prefix':
      return `"${clash.short.code}" is the start of "${clash.long.code}": the controller acts on ${clash.short.what} before the rest arrives, so ${clash.long.what} is never understood`
    case 'mark':
      return `"${clash.use.code}" (${clash.use.what}) starts with the report mark "${clash.mark}": an echo of a report would act as a command`
    case 'empty':
      return `there is no code for ${clash.value}`
  }
}

/** The loads that a clash is about. */
export function clashLoads(clash: Clash): string[] {
  const about = (...uses: CodeUse[]) => uses.flatMap(u => u.loadId ?? [])
  switch (clash.kind) {
    case 'duplicate':
      return about(...clash.uses)
    case 'prefix':
      return about(clash.short, clash.long)
    case 'mark':
      return about(clash.use)
    case 'empty':
      return [clash.loadId]
  }
}
