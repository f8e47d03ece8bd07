/**
 * What a text says to the controller: the words of a link, and the one way from what came over it
 * to a command, a scene or a question, with its number, its time and its proof.
 */
import { inOrder } from '../design/links/parameters'
import { speaksBytes, speaksRoutes } from '../design/links/traits'
import { isTimed } from '../design/outputs/timed'
import type { Design, Link } from '../design/schema'
import { bodyOf, startedCode } from '../design/wire'
import { numberBehind } from './numbers'
import { numberPlaces } from './places'
import { matchRoute } from './routes'
import { PRACTICE_TIME_S, unsealed, type ReplayWindow, type Secret } from './sealing'
import { goesByNumber, setpointIn, type NumberPlace } from './setpoints'
import { feedAll, readerOf, type Reader, type StreamStep } from './stream'
import { commands, helloCode, restartCode, sceneCodes } from './table'
import { LONGEST_BLINK_MS, LONGEST_MS, SHORTEST_MS, startsTimers, timeBehind } from './times'

export type Meaning =
  /** `fresh`: the sender has just started, so that this is where it stands. */
  | { kind: 'set'; load: number; value: string; fresh?: true }
  | { kind: 'scene'; sets: { load: number; value: string }[] }
  | { kind: 'ask' | 'hello' | 'started' }
  | { kind: 'reading'; sensorId: string }
/** What is understood on a link. */
export interface Vocabulary {
  link: Link
  secret: Secret
  /** By body: the message as it crosses the wire, without its end. */
  meanings: Map<string, Meaning>
  reader: Reader
  /** What is said in numbers. */
  numbers: readonly NumberPlace[]
  /** Some of its codes start timers. */
  timed: boolean
  /** Texts that came whole, and what was heard in them: the same few come again and again. */
  heard: Map<string, StreamStep>
}

/** What is set of the loads of this board. */
export function setsIn(
  sets: readonly { loadId: string; value: string }[],
  loadIndex: ReadonlyMap<string, number>,
): { load: number; value: string }[] {
  return sets.flatMap(({ loadId, value }) => {
    const load = loadIndex.get(loadId)
    return load === undefined ? [] : [{ load, value }]
  })
}

/** What a link of a design understands. `loadIndex`: the place of each load. */
export function vocabularyOf(
  design: Design,
  link: Link,
  loadIndex: ReadonlyMap<string, number>,
  secret: Secret,
): Vocabulary {
  const meanings = new Map<string, Meaning>()
  // The first entry of a duplicate wins, as the first branch does in a program.
  const key = (body: string) => (speaksRoutes(link) ? inOrder(body) : body)
  // Where a board looks at the beginning of a route, "/lamp/25" would take "/lamp/250" for its own.
  const whole = !speaksRoutes(link) || link.matching === 'exact'
  const all = commands(design, link)
  for (const c of all)
    if (!meanings.has(key(c.body)) && (whole || !goesByNumber(link, c.loadId, c.value)))
      meanings.set(key(c.body), {
        kind: 'set',
        load: loadIndex.get(c.loadId) as number,
        value: c.value,
      })
  for (const c of all) {
    const body = bodyOf(link, startedCode(link, c.code), 'command')
    if (body !== '' && !meanings.has(body) && !goesByNumber(link, c.loadId, c.value))
      meanings.set(body, {
        kind: 'set',
        load: loadIndex.get(c.loadId) as number,
        value: c.value,
        fresh: true,
      })
  }
  for (const { scene, body } of sceneCodes(design, link))
    if (!meanings.has(key(body)))
      meanings.set(key(body), {
        kind: 'scene',
        sets: setsIn(scene.sets, loadIndex),
      })
  const ask = key(bodyOf(link, speaksRoutes(link) ? link.askRoute : link.askCode, 'command'))
  if (!meanings.has(ask)) meanings.set(ask, { kind: 'ask' })
  if (speaksRoutes(link))
    for (const { route, sensorId } of link.readings)
      if (route !== '' && !meanings.has(key(route)))
        meanings.set(key(route), { kind: 'reading', sensorId })
  const hello = key(bodyOf(link, helloCode(link), 'command'))
  if (hello !== '' && !meanings.has(hello)) meanings.set(hello, { kind: 'hello' })
  const started = bodyOf(link, restartCode(link), 'command')
  if (started !== '' && !meanings.has(started)) meanings.set(started, { kind: 'started' })
  return {
    link,
    secret,
    meanings,
    reader: readerOf(link, meanings.keys()),
    timed: startsTimers(link),
    numbers: numberPlaces(design, link, 'command', loadIndex),
    heard: new Map(),
  }
}

/**
 * The route that a request is taken for; with whole routes a look-up, parameters in whatever order
 * they come.
 */
function routeMeaning(link: Vocabulary, request: string): Meaning | undefined {
  if (speaksBytes(link.link)) return link.meanings.get(request)
  if (link.link.matching === 'exact') return link.meanings.get(inOrder(request))
  const routes = [...link.meanings.keys()]
  return link.meanings.get(routes[matchRoute(link.link.matching, routes, request)] ?? '')
}

function numberMeaning(link: Vocabulary, text: string): Meaning | undefined {
  const said = link.numbers.length ? setpointIn(link.numbers, link.link, text, 'command') : null
  return said ? { kind: 'set' as const, ...said } : undefined
}

/** What a text that comes whole says, nothing being half-read before it. */
export function heardIn(link: Vocabulary, text: string): StreamStep {
  let known = link.heard.get(text)
  if (!known) {
    known = feedAll(link.reader, '', text)
    // Numbers, counters and values make ever new texts; they are not kept for ever.
    if (link.heard.size >= KEPT_TEXTS) link.heard.clear()
    link.heard.set(text, known)
  }
  return known
}
const KEPT_TEXTS = 500

/** A code as it is, or one that starts a timer, with a time of its own behind it. */
export function meaningOf(link: Vocabulary, text: string): Meaning | undefined {
  const plain = routeMeaning(link, text) ?? numberMeaning(link, text)
  if (plain || !link.timed) return plain
  const { body, ms } = timeBehind(link.link, text) ?? {}
  const meaning = body === undefined ? undefined : routeMeaning(link, body)
  return meaning?.kind === 'set'
    && isTimed(meaning.value)
    && ms !== undefined
    && ms >= SHORTEST_MS
    && ms <= (meaning.value === 'blink' ? LONGEST_BLINK_MS : LONGEST_MS)
    ? { ...meaning, value: `${meaning.value}:${ms}` }
    : undefined
}

/** `number`: that of a command that carries one. `proved`: it carried its proof. */
export type Understood =
  | { kind: 'meant'; meaning: Meaning; window: ReplayWindow; number?: number; proved?: true }
  | { kind: 'refused'; why: string; told?: number; asks?: true }
  | { kind: 'unknown' }

/**
 * What a whole message means: commands and scenes only with their proof, where the link asks for
 * one. `window`: what was taken before. `handed`: the number that was handed out to be signed.
 */
export function understood(
  link: Vocabulary,
  window: ReplayWindow,
  text: string,
  clockS = PRACTICE_TIME_S,
  handed: number | null = null,
): Understood {
  const bare = meaningOf(link, text)
  if (link.link.auth.kind === 'none') {
    if (bare || !link.link.numbered)
      return bare ? { kind: 'meant', meaning: bare, window } : { kind: 'unknown' }
    return numbered(link, window, text)
  }
  if (bare && isFree(bare)) return { kind: 'meant', meaning: bare, window }
  const opened = unsealed(link.link, link.secret, window, text, clockS, handed)
  const meaning = opened.ok ? meaningOf(link, opened.body) : undefined
  if (opened.ok && !meaning && link.link.numbered)
    return numbered(link, opened.window, opened.body, true)
  if (opened.ok && meaning && !isFree(meaning))
    return { kind: 'meant', meaning, window: opened.window, proved: true }
  if (opened.ok) return { kind: 'unknown' }
  const { ok: _, ...why } = opened
  return { kind: 'refused', ...why }
}

/** A command or scene with its number behind it. */
function numbered(link: Vocabulary, window: ReplayWindow, text: string, proved?: true): Understood {
  const behind = numberBehind(link.link, text)
  const meaning = behind ? meaningOf(link, behind.body) : undefined
  return behind && (meaning?.kind === 'set' || meaning?.kind === 'scene')
    ? { kind: 'meant', meaning, window, number: behind.number, ...(proved && { proved }) }
    : { kind: 'unknown' }
}

/** Questions and the mark of a start move nothing, so they need no proof. */
function isFree({ kind }: Meaning): boolean {
  return kind === 'ask' || kind === 'hello' || kind === 'started' || kind === 'reading'
}
