/** A design compiled for one controller: indexes instead of ids, so that a step is table look-ups only. */
import { fingerprint } from '../design/fingerprint'
import { handSurfaces, sensesPanel } from '../design/find'
import { isTimed, valuesOf } from '../design/values'
import { LONGEST_BLINK_MS, LONGEST_MS, SHORTEST_MS, startsTimers, timeBehind } from '../messages/times'
import type { Control, Design, Gesture, Link, LinkReading, Load } from '../design/schema'
import { bodyOf } from '../design/wire'
import { practiceSecret, unsealed, type ReplayWindow, type Secret } from '../messages/sealing'
import { readerOf, type Reader } from '../messages/stream'
import { matchRoute } from '../messages/routes'
import { commands, errorText, helloCode, reportBody, reportText, rows, sceneCodes, streams } from '../messages/table'

/** By value: the text of its report, and the same without end or form. */
export interface ProgramMessage { load: number, ack: boolean, change: boolean, reports: ReadonlyMap<string, string>, lines: ReadonlyMap<string, string> }
export type Meaning = { kind: 'set', load: number, value: string } | { kind: 'scene', sets: { load: number, value: string }[] } | { kind: 'ask' | 'hello' }
export interface ProgramLink {
  link: Link
  secret: Secret
  streams: boolean
  /** Knows when a panel connects; a serial module without its connected line does not. */
  senses: boolean
  /** By body: the message as it crosses the wire, without its end. */
  meanings: Map<string, Meaning>
  reader: Reader
  /** Some of its codes start timers. */
  timed: boolean
  /** Answer to what is not understood, or "". */
  error: string
  messages: (ProgramMessage | undefined)[]
}
/** `targets`: what each gesture of the control does. */
export interface ProgramInput { control: Control, load: number, targets: Partial<Record<Gesture, { load: number, asks: string }>> }
/** A reading that is told on a link, by the numbers of both. */
export interface ProgramReading { link: number, sensor: number, reading: LinkReading }
export interface Program {
  design: Design
  fingerprint: string
  loads: Load[]
  inputs: ProgramInput[]
  links: ProgramLink[]
  readings: ProgramReading[]
  loadIndex: Map<string, number>
  linkIndex: Map<string, number>
  inputIndex: Map<string, number>
}

/** `secrets` by link; the practice secret stands for one that is not given. */
export function compileController(design: Design, secrets: Readonly<Record<string, Secret>> = {}): Program {
  const loadIndex = indexBy(design.loads)
  const controls = handSurfaces(design).flatMap(s => s.controls)
  return {
    design,
    get fingerprint() { return fingerprint(design) },
    loads: design.loads,
    inputs: controls.map(control => compileInput(control, loadIndex)),
    links: design.links.map(link => compileLink(design, link, loadIndex, secrets[link.id] ?? practiceSecret(link))),
    readings: design.links.flatMap((l, link) => l.readings.map(reading => ({ link, sensor: design.sensors.findIndex(s => s.id === reading.sensorId), reading }))),
    loadIndex,
    linkIndex: indexBy(design.links),
    inputIndex: indexBy(controls),
  }
}

function compileInput(control: Control, loadIndex: Map<string, number>): ProgramInput {
  const load = loadIndex.get(control.loadId) as number
  const more = control.kind === 'push' ? control.gestures.map(g => [g.on, { load: loadIndex.get(g.loadId) as number, asks: g.asks }] as const) : []
  return { control, load, targets: { single: { load, asks: control.asks }, ...Object.fromEntries(more) } }
}

function compileLink(design: Design, link: Link, loadIndex: Map<string, number>, secret: Secret): ProgramLink {
  const meanings = new Map<string, Meaning>()
  // The first entry of a duplicate wins, as the first branch does in a program.
  for (const c of commands(design, link)) if (!meanings.has(c.body)) meanings.set(c.body, { kind: 'set', load: loadIndex.get(c.loadId) as number, value: c.value })
  for (const { scene, body } of sceneCodes(design, link)) if (!meanings.has(body)) meanings.set(body, { kind: 'scene', sets: scene.sets.flatMap(s => loadIndex.has(s.loadId) ? [{ load: loadIndex.get(s.loadId) as number, value: s.value }] : []) })
  const ask = bodyOf(link, link.kind === 'http' ? link.askRoute : link.askCode, 'command')
  if (!meanings.has(ask)) meanings.set(ask, { kind: 'ask' })
  const hello = bodyOf(link, helloCode(link), 'command')
  if (hello !== '' && !meanings.has(hello)) meanings.set(hello, { kind: 'hello' })
  const messages: ProgramLink['messages'] = design.loads.map(() => undefined)
  for (const { load, message } of rows(design, link)) {
    const index = loadIndex.get(load.id) as number
    messages[index] = { load: index, ack: message.ack, change: message.change, reports: new Map(valuesOf(load.output).map(value => [value, reportText(link, load, message, value)])), lines: new Map(valuesOf(load.output).map(value => [value, reportBody(link, load, message, value)])) }
  }
  return { link, secret, streams: streams(link), senses: sensesPanel(link), meanings, reader: readerOf(link, meanings.keys()), error: errorText(link), timed: startsTimers(link), messages }
}

function indexBy(list: readonly { id: string }[]): Map<string, number> {
  return new Map(list.map((item, i) => [item.id, i]))
}

/** The route that a request is taken for; with whole routes a look-up. */
export function routeMeaning(link: ProgramLink, request: string): Meaning | undefined {
  if (link.link.kind !== 'http' || link.link.matching === 'exact') return link.meanings.get(request)
  const routes = [...link.meanings.keys()]
  return link.meanings.get(routes[matchRoute(link.link.matching, routes, request)] ?? '')
}

/** A code as it is, or one that starts a timer, with a time of its own behind it. */
function meaningOf(link: ProgramLink, text: string): Meaning | undefined {
  const plain = routeMeaning(link, text)
  if (plain || !link.timed) return plain
  const { body, ms } = timeBehind(link.link, text) ?? {}
  const meaning = body === undefined ? undefined : routeMeaning(link, body)
  return meaning?.kind === 'set' && isTimed(meaning.value) && ms !== undefined && ms >= SHORTEST_MS && ms <= (meaning.value === 'blink' ? LONGEST_BLINK_MS : LONGEST_MS)
    ? { ...meaning, value: `${meaning.value}:${ms}` }
    : undefined
}

export type Understood = { kind: 'meant', meaning: Meaning, window: ReplayWindow } | { kind: 'refused', why: string } | { kind: 'unknown' }

/** What a whole message means: commands and scenes only with their proof, where the link asks for one. `window`: what was taken before. */
export function understood(link: ProgramLink, window: ReplayWindow, text: string): Understood {
  const bare = meaningOf(link, text)
  if (link.link.auth.kind === 'none') return bare ? { kind: 'meant', meaning: bare, window } : { kind: 'unknown' }
  if (bare?.kind === 'ask' || bare?.kind === 'hello') return { kind: 'meant', meaning: bare, window }
  const opened = unsealed(link.link, link.secret, window, text)
  const meaning = opened.ok ? meaningOf(link, opened.body) : undefined
  if (opened.ok && meaning && meaning.kind !== 'ask' && meaning.kind !== 'hello') return { kind: 'meant', meaning, window: opened.window }
  if (opened.ok) return { kind: 'unknown' }
  return { kind: 'refused', why: opened.why }
}
