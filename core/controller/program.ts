/**
 * A design compiled for one controller: indexes instead of ids, so that a step is table look-ups
 * only.
 */
import { fingerprint } from '../design/fingerprint'
import { handSurfaces, lampsOf } from '../design/find'
import { sensesPanel, answersAskers } from '../design/links/traits'
import { valuesOf } from '../design/values'
import { ruleSets, setsOf, targetsOf, type Target } from '../design/targets'
import { setsIn, vocabularyOf, type Vocabulary } from '../messages/meaning'
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
import { PRACTICE_TIME_S, practiceSecret, type Secret } from '../messages/sealing'
import { errorText, reportBody, reportText, rows, streams } from '../messages/table'
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
export interface ProgramLink extends Vocabulary {
  streams: boolean
  /** Knows when a panel connects; a serial module without its connected line does not. */
  senses: boolean
  /** Speaks only to who asked last, and after a start nobody has. */
  answersAskers: boolean
  /** Answer to what is not understood, or "". */
  error: string
  messages: (ProgramMessage | undefined)[]
  /** Loads that it has messages for. */
  carried: readonly number[]
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

function compileLink(
  design: Design,
  link: Link,
  loadIndex: Map<string, number>,
  secret: Secret,
): ProgramLink {
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
    ...vocabularyOf(design, link, loadIndex, secret),
    streams: streams(link),
    senses: sensesPanel(link),
    answersAskers: answersAskers(link),
    error: errorText(link),
    messages,
    carried: messages.flatMap(m => (m ? [m.load] : [])),
  }
}

function indexBy(list: readonly { id: string }[]): Map<string, number> {
  return new Map(list.map((item, i) => [item.id, i]))
}
