/**
 * A design compiled for one controller: indexes instead of ids, so that a step is table look-ups
 * only.
 */
import { fingerprint } from '../design/fingerprint'
import { handSurfaces, lampsOf } from '../design/find'
import { sensesPanel, speaksBytes, speaksRoutes, answersAskers } from '../design/links/traits'
import { valuesOf } from '../design/values'
import { isTimed } from '../design/outputs/timed'
import { ruleSets, setsOf, targetsOf, type Target } from '../design/targets'
import { numberBehind } from '../messages/numbers'
import {
  LONGEST_BLINK_MS,
  LONGEST_MS,
  SHORTEST_MS,
  startsTimers,
  timeBehind,
} from '../messages/times'
import type {
  Control,
  Design,
  Gesture,
  Lamp,
  Link,
  LinkReading,
  Load,
  Message,
  Rule,
  Sensor,
  SensorOf,
} from '../design/schema'
import { linkOfSeat } from '../design/seats'
import { bodyOf, startedCode } from '../design/wire'
import {
  PRACTICE_TIME_S,
  practiceSecret,
  unsealed,
  type ReplayWindow,
  type Secret,
} from '../messages/sealing'
import { feedAll, readerOf, type Reader, type StreamStep } from '../messages/stream'
import { inOrder } from '../design/links/parameters'
import { matchRoute } from '../messages/routes'
import { goesByNumber, setpointIn, type NumberPlace } from '../messages/setpoints'
import {
  commands,
  errorText,
  helloCode,
  reportBody,
  reportText,
  restartCode,
  rows,
  sceneCodes,
  streams,
} from '../messages/table'
import { numberPlaces } from '../messages/places'
import { isOpposed } from '../design/outputs/traits'
import { asksByWay, isKnob, isReceiver } from '../design/sensors/traits'
import type { StickWay } from './sticks'

/** By value: the text of its report, and the same without end or form. */
export interface ProgramMessage {
  load: number
  message: Message
  ack: boolean
  change: boolean
  reports: ReadonlyMap<string, string>
  lines: ReadonlyMap<string, string>
}
export type Meaning =
  /** `fresh`: the sender has just started, so that this is where it stands. */
  | { kind: 'set'; load: number; value: string; fresh?: true }
  | { kind: 'scene'; sets: { load: number; value: string }[] }
  | { kind: 'ask' | 'hello' | 'started' }
  | { kind: 'reading'; sensorId: string }
export interface ProgramLink {
  link: Link
  secret: Secret
  streams: boolean
  /** Knows when a panel connects; a serial module without its connected line does not. */
  senses: boolean
  /** Speaks only to who asked last, and after a start nobody has. */
  answersAskers: boolean
  /** By body: the message as it crosses the wire, without its end. */
  meanings: Map<string, Meaning>
  reader: Reader
  /** What is said in numbers. */
  numbers: readonly NumberPlace[]
  /** Some of its codes start timers. */
  timed: boolean
  /** Answer to what is not understood, or "". */
  error: string
  messages: (ProgramMessage | undefined)[]
  /** Loads that it has messages for. */
  carried: readonly number[]
  /** Texts that came whole, and what was heard in them: the same few come again and again. */
  heard: Map<string, StreamStep>
}
/** What somebody asks for: a load for something, or all that a scene sets. */
export type ProgramTarget =
  | { load: number; asks: string }
  | { sceneId: string; sets: readonly { load: number; value: string }[] }
/** `load`: the one that the control stands with. `targets`: what each gesture of it does. */
export interface ProgramInput {
  control: Control
  load: number
  targets: Partial<Record<Gesture, ProgramTarget>>
}
/** A reading that is told on a link, by the numbers of both. */
export interface ProgramReading {
  link: number
  sensor: number
  reading: LinkReading
}
export interface ProgramKnob {
  sensor: number
  load: number
  knob: Extract<Sensor, { kind: 'knob' }>
}
/** A stick, and what it asks for by the way it is pushed. */
export interface ProgramStick {
  sensor: number
  stick: SensorOf<'two-axis'>
  targets: Partial<Record<StickWay, ProgramTarget>>
}
export interface ProgramRule {
  rule: Rule
  sensor: number
  sets: { load: number; value: string }[]
}
/** A lamp that nobody switches; `links`: those it shows, one for each who shares it. */
export interface ProgramLamp {
  lamp: Lamp
  links: readonly number[]
}
/** End contacts of opposed outputs, by the sensor that tells of them. */
export interface ProgramEnd {
  sensor: number
  load: number
  direction: 'forward' | 'reverse'
}
export interface Program {
  design: Design
  /** What its clock said when its own time began, s since 1970. */
  epochS: number
  /** What its numbers to sign are drawn with besides the key: see `compileController`. */
  salt: string
  fingerprint: string
  loads: Load[]
  inputs: ProgramInput[]
  links: ProgramLink[]
  readings: ProgramReading[]
  /** By number of a receiver: what each of its keys asks for here. */
  remotes: ReadonlyMap<number, readonly (ProgramTarget | undefined)[]>
  knobs: ProgramKnob[]
  sticks: ProgramStick[]
  rules: ProgramRule[]
  ends: ProgramEnd[]
  lamps: ProgramLamp[]
  /**
   * Who can hold a held output: each link, then each hand control, then remote, knob and
   * stick, then rules.
   */
  holders: number
  loadIndex: Map<string, number>
  linkIndex: Map<string, number>
  inputIndex: Map<string, number>
}

/**
 * `secrets` by link; the practice secret stands for one that is not given. `epochS`: what its clock
 * says when its own time is 0, s since 1970. `salt`: where starts are not counted over a power cut,
 * something that never comes twice.
 */
export function compileController(
  design: Design,
  secrets: Readonly<Record<string, Secret>> = {},
  epochS = PRACTICE_TIME_S,
  salt = '',
): Program {
  const loadIndex = indexBy(design.loads)
  const controls = handSurfaces(design).flatMap(s => s.controls)
  const sensorAt = (id: string) => design.sensors.findIndex(s => s.id === id)
  return {
    design,
    epochS,
    salt,
    get fingerprint() {
      return fingerprint(design)
    },
    loads: design.loads,
    inputs: controls.map(control => compileInput(design, control, loadIndex)),
    links: design.links.map(link =>
      compileLink(design, link, loadIndex, secrets[link.id] ?? practiceSecret(link)),
    ),
    readings: design.links.flatMap((l, link) =>
      l.readings.map(reading => ({ link, sensor: sensorAt(reading.sensorId), reading })),
    ),
    remotes: new Map(
      design.sensors.flatMap((s, sensor) =>
        isReceiver(s)
          ? [[sensor, s.keys.map(key => compileTarget(design, key, loadIndex))] as const]
          : [],
      ),
    ),
    knobs: design.sensors.flatMap((s, sensor) =>
      isKnob(s) && loadIndex.has(s.loadId)
        ? [{ sensor, load: loadIndex.get(s.loadId) as number, knob: s }]
        : [],
    ),
    sticks: design.sensors.flatMap((s, sensor) =>
      asksByWay(s)
        ? [
            {
              sensor,
              stick: s,
              targets: Object.fromEntries(
                s.ways.flatMap(way => {
                  const target = compileTarget(design, way, loadIndex)
                  return target ? [[way.on, target]] : []
                }),
              ),
            },
          ]
        : [],
    ),
    rules: design.rules.map(rule => ({
      rule,
      sensor: sensorAt(rule.sensorId),
      sets: setsIn(ruleSets(design, rule), loadIndex),
    })),
    ends: design.loads.flatMap(({ output }, load) =>
      !isOpposed(output)
        ? []
        : (['forward', 'reverse'] as const).flatMap(direction => {
            const contact = direction === 'forward' ? output.forwardEnd : output.reverseEnd
            return contact === null ? [] : [{ sensor: sensorAt(contact), load, direction }]
          }),
    ),
    lamps: lampsOf(design).map(lamp => ({
      lamp,
      links: design.links.flatMap((l, i) =>
        lamp.shows === 'link' && linkOfSeat(design, l.id) === lamp.linkId ? [i] : [],
      ),
    })),
    holders: design.links.length + controls.length + 2,
    loadIndex,
    linkIndex: indexBy(design.links),
    inputIndex: indexBy(controls),
  }
}

function compileInput(
  design: Design,
  control: Control,
  loadIndex: Map<string, number>,
): ProgramInput {
  return {
    control,
    load: loadIndex.get(control.loadId) as number,
    targets: Object.fromEntries(
      targetsOf(control).flatMap(({ on, target }) => {
        const compiled = compileTarget(design, target, loadIndex)
        return compiled ? [[on, compiled]] : []
      }),
    ),
  }
}

/** Undefined where it acts on nothing of this board. */
function compileTarget(
  design: Design,
  target: Target,
  loadIndex: ReadonlyMap<string, number>,
): ProgramTarget | undefined {
  if ('sceneId' in target) {
    const sets = setsIn(setsOf(design, target.sceneId), loadIndex)
    return sets.length ? { sceneId: target.sceneId, sets } : undefined
  }
  const load = loadIndex.get(target.loadId)
  return load === undefined ? undefined : { load, asks: target.asks }
}

/** What is set of the loads of this board. */
function setsIn(
  sets: readonly { loadId: string; value: string }[],
  loadIndex: ReadonlyMap<string, number>,
): { load: number; value: string }[] {
  return sets.flatMap(({ loadId, value }) => {
    const load = loadIndex.get(loadId)
    return load === undefined ? [] : [{ load, value }]
  })
}

function compileLink(
  design: Design,
  link: Link,
  loadIndex: Map<string, number>,
  secret: Secret,
): ProgramLink {
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
  const messages: ProgramLink['messages'] = design.loads.map(() => undefined)
  for (const { load, message } of rows(design, link)) {
    const index = loadIndex.get(load.id) as number
    messages[index] = {
      load: index,
      message,
      ack: message.ack,
      change: message.change,
      reports: new Map(
        valuesOf(load.output).map(value => [value, reportText(link, load, message, value)]),
      ),
      lines: new Map(
        valuesOf(load.output).map(value => [value, reportBody(link, load, message, value)]),
      ),
    }
  }
  return {
    link,
    secret,
    streams: streams(link),
    senses: sensesPanel(link),
    answersAskers: answersAskers(link),
    meanings,
    reader: readerOf(link, meanings.keys()),
    error: errorText(link),
    timed: startsTimers(link),
    numbers: numberPlaces(design, link, 'command', loadIndex),
    messages,
    carried: messages.flatMap(m => (m ? [m.load] : [])),
    heard: new Map(),
  }
}

function indexBy(list: readonly { id: string }[]): Map<string, number> {
  return new Map(list.map((item, i) => [item.id, i]))
}

/**
 * The route that a request is taken for; with whole routes a look-up, parameters in whatever order
 * they come.
 */
export function routeMeaning(link: ProgramLink, request: string): Meaning | undefined {
  if (speaksBytes(link.link)) return link.meanings.get(request)
  if (link.link.matching === 'exact') return link.meanings.get(inOrder(request))
  const routes = [...link.meanings.keys()]
  return link.meanings.get(routes[matchRoute(link.link.matching, routes, request)] ?? '')
}

function numberMeaning(link: ProgramLink, text: string): Meaning | undefined {
  const said = link.numbers.length ? setpointIn(link.numbers, link.link, text, 'command') : null
  return said ? { kind: 'set' as const, ...said } : undefined
}

/** What a text that comes whole says, nothing being half-read before it. */
export function heardIn(link: ProgramLink, text: string): StreamStep {
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
export function meaningOf(link: ProgramLink, text: string): Meaning | undefined {
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
  link: ProgramLink,
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
function numbered(
  link: ProgramLink,
  window: ReplayWindow,
  text: string,
  proved?: true,
): Understood {
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
