/**
 * Conformance scenarios: plain texts that say what a controller is given and, to the millisecond,
 * all that it has to do. Any implementation of the behaviour can be run against them: `played`
 * drives one through a narrow door. The form is told in conformance/README.md.
 */
import { lampsOf } from '../design/find'
import { blankDesign } from '../design/blank'
import { newLink } from '../design/links/rows'
import {
  type Control,
  DEFAULT_WIRING,
  type Design,
  type DialectKind,
  type Gesture,
  type Link,
  type LinkKind,
  type Message,
  NO_GESTURES,
  type Output,
  type Rule,
  type Sensor,
} from '../design/schema'
import { newSensor, sensorLines } from '../design/sensors/rows'
import type { SensorKind } from '../design/sensors/schema'
import { asksOf, linesOf, relativeOf, spokenValues, isFine } from '../design/values'
import { outputOfKind } from '../design/outputs/kinds'
import { octets } from '../bytes/text'
import { visible } from '../bytes/template'
import {
  assign,
  numberCodesFor,
  relativeCode,
  saysNumbers,
  sceneCode,
  schoolsOf,
} from '../messages/assign'
import { clock32 } from '../units/clock'
import { EVENT_ORDER } from './state'
import type { ControllerEvent, Effect, Level } from './step'
import {
  isLevel,
  isStepper,
  isSwitched,
  isChoice,
  hasCoils,
  isDriven,
} from '../design/outputs/traits'
import { isBluetooth, isWire, speaksBytes, speaksRoutes } from '../design/links/traits'
import { dialectRow, DIALECTS } from '../design/dialects/rows'
import { makerOf } from '../messages/dialects/makers'
import { isAnalog, isKnob, isLadder, isReceiver, isStick } from '../design/sensors/traits'
import { RELATIVE } from '../messages/table'
import type { StickWay } from './sticks'
import { first } from '../units/lists'

export interface Scenario {
  title: string
  file: string
  line: number
  /** The sentence of the behaviour that it holds up. */
  says: string
  design: Design
  /**
   * In the order in which a controller is given them: by time, then as docs/behaviour.md says for
   * equal times.
   */
  given: { t: number; event: ScenarioEvent }[]
  endMs: number
  /** Every output of the whole scenario, in order: "1030 fan pin high". */
  expected: string[]
  /** What each load is told to be at the end: "fan on". */
  told: string[]
  /** Writes of memory take this long, ms. */
  writeMs: number
}
export type ScenarioEvent =
  Exclude<ControllerEvent, { kind: 'tick' | 'boot' | 'memoryDone' }> | { kind: 'boot'; now: number }

export class BadScenario extends Error {}

/**
 * What a scenario needs of an implementation. Events come in order; `due` is when it wants a tick.
 */
export interface Implementation {
  handle: (event: ControllerEvent) => readonly Effect[]
  due: () => number | null
  value: (load: number) => string
}

/** Scenarios of a text, in order. */
export function scenariosIn(text: string, file = ''): Scenario[] {
  return blocksIn(text).map(({ start, lines }) => scenarioOf(lines, file, start))
}

/** A text cut at its titles. */
export function blocksIn(text: string): { start: number; lines: string[] }[] {
  const blocks: { start: number; lines: string[] }[] = []
  text.split('\n').forEach((line, i) => {
    if (line.startsWith('== ')) blocks.push({ start: i + 1, lines: [line] })
    else blocks.at(-1)?.lines.push(line)
  })
  return blocks
}

function scenarioOf(lines: readonly string[], file: string, start: number): Scenario {
  const makes = new Making()
  const told: string[] = []
  const { title, says, inputs, expected } = readLines(lines, file, start, (head, words) =>
    head === '=' ? void told.push(words.join(' ')) : makes.line(head, words),
  )
  let endMs = 0
  const design = makes.design()
  const given = inputs.flatMap(({ words: [at = '', what = '', rest = ''], line }) =>
    placed(file, line, () => {
      const t = timeOf(at)
      endMs = Math.max(endMs, t)
      return what === 'end' ? [] : eventOf(design, t, what, rest).map(event => ({ t, event }))
    }),
  )
  if (!expected.length && !told.length)
    throw new BadScenario(`${file}:${start}: it expects nothing`)
  return {
    title,
    file,
    line: start,
    says,
    design,
    given: given.toSorted((a, b) => a.t - b.t || orderOf(a.event) - orderOf(b.event)),
    endMs,
    expected,
    told,
    writeMs: makes.writeMs,
  }
}

/**
 * What every scenario has: its title, the sentence it holds up, what is given and expected. Other
 * lines are for `other`.
 */
export function readLines(
  lines: readonly string[],
  file: string,
  start: number,
  other: (head: string, words: readonly string[]) => void,
) {
  const inputs: { words: readonly string[]; line: number }[] = []
  const expected: string[] = []
  const says: string[] = []
  lines.forEach((line, i) =>
    placed(file, start + i, () => {
      const text = line.replace(/\s+#\s.*$/, '').trim()
      if (i === 0 || text === '' || text.startsWith('# ')) return
      const [head = '', ...words] = text.split(/\s+/)
      switch (head) {
        case ':':
          says.push(words.join(' '))
          return
        case '>':
          inputs.push({
            words: (/^> *(\S*) *(\S*) *(.*)$/.exec(text) ?? []).slice(1),
            line: start + i,
          })
          return
        case '<':
          expected.push(words.join(' '))
          return
        default:
          other(head, words)
      }
    }),
  )
  return { title: (lines[0] ?? '').slice(3).trim(), says: says.join(' '), inputs, expected }
}

/** What is wrong in a line is told with its place. */
export function placed<T>(file: string, line: number, read: () => T): T {
  try {
    return read()
  } catch (error) {
    if (error instanceof BadScenario) throw new BadScenario(`${file}:${line}: ${error.message}`)
    throw error
  }
}

/** "1000", or "wrap-500" and "wrap+500" around the turn of the 32-bit clock. */
export function timeOf(text: string): number {
  const [, turn, number = ''] = /^(wrap)?([+-]?\d+)$/.exec(text) ?? []
  if (number === '') throw new BadScenario(`"${text}" is no time`)
  return (turn ? 2 ** 32 : 0) + Number(number)
}

/** Order at equal times. */
function orderOf(event: ScenarioEvent): number {
  return (
    EVENT_ORDER[event.kind] + (event.kind === 'received' || event.kind === 'sent' ? event.link : 0)
  )
}

/** Plays a scenario; returns every output as text, and what each load is told to be at the end. */
export function played(
  scenario: Scenario,
  implementation: Implementation,
): { outputs: string[]; told: string[] } {
  const { design } = scenario
  const outputs: string[] = []
  const levels = new Map<number, Level>()
  const controls = controlsOf(design)
  let running = false
  let writtenAt: number | null = null
  let now = 0
  const fire = (event: ControllerEvent) => {
    for (const effect of implementation.handle(event)) {
      outputs.push(`${event.now} ${effectText(design, effect)}`)
      if (effect.kind === 'save') writtenAt ??= event.now + scenario.writeMs
    }
    finishWrite(event.now)
  }
  const finishWrite = (t: number) => {
    if (writtenAt === null || writtenAt > t) return
    const at = writtenAt
    writtenAt = null
    fire({ kind: 'memoryDone', now: at })
  }
  /** Timers up to `t`; those at `t` itself only when it is their turn. */
  const pass = (t: number, inclusive: boolean) => {
    for (;;) {
      const due = running ? implementation.due() : null
      const at = due === null ? Infinity : now + Math.max(0, (due - clock32(now)) | 0)
      if (writtenAt !== null && writtenAt < Math.min(at, t)) {
        now = writtenAt
        finishWrite(writtenAt)
        continue
      }
      if (at > t || (at === t && !inclusive)) break
      now = at
      fire({ kind: 'tick', now: at })
    }
    now = t
  }
  for (const { t, event } of scenario.given) {
    pass(t, EVENT_ORDER[event.kind] > EVENT_ORDER.tick)
    finishWrite(t)
    if (event.kind === 'boot') {
      running = true
      fire({ kind: 'boot', now: t, levels: controls.map((_, i) => levels.get(i) ?? 1) })
    } else {
      if (event.kind === 'pin') levels.set(event.input, event.level)
      if (event.kind === 'powerOff') {
        running = false
        writtenAt = null
      }
      fire({ ...event, now: t })
    }
  }
  pass(scenario.endMs, true)
  const toldNow = (line: string) =>
    `${line.split(' ')[0] ?? ''} ${implementation.value(loadIndex(design, line.split(' ')[0] ?? ''))}`
  return { outputs, told: scenario.told.map(toldNow) }
}

/**
 * Outputs with those that meet a pattern put as the pattern: a star stands for letters and digits
 * that nobody can know beforehand.
 */
export function matched(expected: readonly string[], outputs: readonly string[]): string[] {
  return outputs.map((text, i) => {
    const wanted = expected[i] ?? ''
    if (!wanted.includes('*')) return text
    const pattern = wanted
      .split('*')
      .map(part => part.replaceAll(/[.+?^${}()|[\]\\]/g, '\\$&'))
      .join('[0-9A-Za-z]+')
    return new RegExp(`^${pattern}$`).test(text) ? wanted : text
  })
}

function effectText(design: Design, effect: Effect): string {
  const link = (i: number) => design.links[i]?.id ?? ''
  switch (effect.kind) {
    case 'pin': {
      const { id = '', output } = design.loads[effect.load] ?? {}
      const line = output && linesOf(output)[effect.line]
      const digital = effect.level ? 'high' : 'low'
      const analog = isLevel(output) || (isStepper(output) && effect.line === 0)
      return `${id} ${line?.name ? line.name.replaceAll(' ', '-') : 'pin'} ${analog ? effect.level : digital}`
    }
    case 'send':
      return `${link(effect.link)} ${visible(effect.text)}`
    case 'reply':
      return `${link(effect.link)} ${effect.status} ${visible(effect.text)}`
    case 'lamp':
      return `${lampsOf(design)[effect.lamp]?.id ?? ''} pin ${effect.level ? 'high' : 'low'}`
    case 'save':
      return `saves ${design.loads[effect.load]?.id ?? ''} ${effect.value}`
  }
}

function controlsOf(design: Design): Control[] {
  return design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))
}

function eventOf(design: Design, now: number, what: string, rest: string): ScenarioEvent[] {
  const [first = '', ...more] = rest.split(/\s+/)
  const link = () => indexOf(design.links, first, 'link')
  const sensor = () => indexOf(design.sensors, first, 'sensor')
  const input = () => indexOf(controlsOf(design), first, 'hand control')
  switch (what) {
    case 'boot':
      return [{ kind: 'boot', now }]
    case 'off':
      return [{ kind: 'powerOff', now }]
    case 'close':
      return [{ kind: 'pin', now, input: input(), level: 0 }]
    case 'open':
      return [{ kind: 'pin', now, input: input(), level: 1 }]
    case 'up':
      return [{ kind: 'linkUp', now, link: link() }]
    case 'down':
      return [{ kind: 'linkDown', now, link: link() }]
    case 'network':
      return [{ kind: 'network', now, up: first === 'up' }]
    case 'sent':
      return [{ kind: 'sent', now, link: link() }]
    case 'sense':
      return [{ kind: 'sample', now, sensor: sensor(), raw: more.map(Number) }]
    case 'lines':
      return [
        {
          kind: 'knob',
          now,
          knob: design.sensors.filter(s => isKnob(s)).findIndex(s => s.id === first),
          a: Number(more[0]?.[0]) as Level,
          b: Number(more[0]?.[1]) as Level,
        },
      ]
    case 'remote': {
      const [address = 0, command = 0] = (more[0] ?? '').split(':').map(Number)
      return [
        { kind: 'infrared', now, sensor: sensor(), address, command, repeat: more[1] === 'repeat' },
      ]
    }
    default:
      return [
        {
          kind: 'received',
          now,
          link: indexOf(design.links, what, 'link'),
          text: octets(rest.replaceAll('\\n', '\n').replaceAll('\\r', '\r')),
        },
      ]
  }
}

/** The place of an id in a list. Throws `BadScenario` where it is not there. */
export function indexOf(list: readonly { id: string }[], id: string, what: string): number {
  const at = list.findIndex(x => x.id === id)
  if (at < 0) throw new BadScenario(`there is no ${what} "${id}"`)
  return at
}

function loadIndex(design: Design, id: string): number {
  return indexOf(design.loads, id, 'load')
}

/** A design from the few words of a scenario. */
export class Making {
  private readonly made = structuredClone(blankDesign('scenario', 'Scenario'))
  private readonly hand: Extract<Design['surfaces'][number], { kind: 'hand' }> = {
    kind: 'hand',
    id: 'wall',
    name: 'Wall',
    inSight: true,
    controls: [],
  }
  private readonly told: { linkId: string; sensorId: string; patch: Record<string, unknown> }[] = []
  private readonly reports: {
    linkId: string
    ack: boolean
    change: boolean
    only: string[] | null
  }[] = []
  private pins = 2
  writeMs = 0

  line(head: string, words: readonly string[]): void {
    const [id = '', second = '', ...rest] = words
    const settings = Object.fromEntries(
      words
        .filter(w => w.includes('='))
        .map(w => {
          const at = w.indexOf('=')
          return [w.slice(0, at), valueOf(w.slice(at + 1))]
        }),
    )
    switch (head) {
      case 'load':
        return this.load(id, second as Output['kind'], settings)
      case 'button':
        return this.button(id, second, settings)
      case 'switch':
        return void this.hand.controls.push({
          kind: 'latching',
          ...this.control(id, second),
          asks: 'toggle',
          acts: 'position',
          atStart: 'stay',
          ...settings,
        })
      case 'link':
        return this.link(id, second as LinkKind, settings)
      case 'sensor':
        return this.sensor(id, second as SensorKind, settings)
      case 'tell':
        return void this.told.push({ linkId: id, sensorId: second, patch: settings })
      case 'lamp':
        return void this.made.controllers[0]?.lamps.push({
          ...{ id, name: id, pin: this.pins++, activeLevel: 'high' },
          ...(second === 'link'
            ? { shows: 'link', linkId: rest[0] ?? '' }
            : { shows: second as 'network' | 'waiting' }),
        })
      case 'scene':
        return void this.made.scenes.push({ id, name: id, sets: setsIn(words.slice(1)) })
      case 'rule':
        return this.rule(id, second, rest)
      case 'memory':
        this.writeMs = Number(settings.writeMs)
        return
      default:
        throw new BadScenario(`"${head}" is not known here`)
    }
  }

  private load(id: string, kind: Output['kind'], settings: Record<string, unknown>): void {
    const { timers, limits, choices, ...patch } = settings
    const pin = this.pins++
    const output = {
      ...outputOfKind(
        kind,
        {
          kind: 'switched',
          pin,
          activeLevel: 'high',
          powerUp: 'off',
          saveDelayMs: 2000,
          timers: null,
          limits: null,
        },
        [this.pins++],
      ),
      ...patch,
    } as Output
    if (isDriven(output) && !('activeLevel' in patch)) output.activeLevel = 'high'
    if (isChoice(output) && choices)
      output.choices = (choices as string)
        .split('/')
        .map(value => ({ id: value, words: value, picture: null }))
    if (hasCoils(output)) Object.assign(output, { thirdPin: this.pins++, fourthPin: this.pins++ })
    if (isSwitched(output) && timers) {
      const [onDelayMs = 0, offDelayMs = 0, blinkMs = 0] = (timers as string).split('/').map(Number)
      output.timers = { onDelayMs, offDelayMs, blinkMs }
    }
    if (isSwitched(output) && limits) {
      const [minOnMs = '0', minOffMs = '0', longestOnMs = '0', tooSoon = 'wait'] = (
        limits as string
      ).split('/')
      output.limits = {
        minOnMs: Number(minOnMs),
        minOffMs: Number(minOffMs),
        longestOnMs: Number(longestOnMs),
        tooSoon: tooSoon as 'wait' | 'refuse',
      }
    }
    this.made.loads.push({
      id,
      name: id,
      controllerId: 'board',
      note: '',
      room: '',
      wiring: DEFAULT_WIRING,
      output,
    })
  }

  private control(id: string, loadId: string) {
    return {
      ...{ id, loadId, sceneId: null, pin: this.pins++ },
      ...{ debounceMs: 30, leadMeters: 1, pullOhms: null },
    }
  }

  private button(
    id: string,
    loadId: string,
    { double, triple, hold, ...settings }: Record<string, unknown>,
  ): void {
    const output = this.made.loads[loadIndex(this.made, loadId)]?.output as Output
    const gestures = Object.entries({ double, triple, hold }).flatMap(([on, what]) => {
      if (typeof what !== 'string') return []
      const [asks = '', other = loadId] = what.split('@')
      const gesture = on as Exclude<Gesture, 'single'>
      return [
        asks === 'scene' ? { on: gesture, sceneId: other } : { on: gesture, asks, loadId: other },
      ]
    })
    this.hand.controls.push({
      kind: 'push',
      ...this.control(id, loadId),
      asks: first(asksOf(output, 'push')),
      lockoutMs: 0,
      ...NO_GESTURES,
      gestures,
      ...settings,
    })
  }

  private link(
    id: string,
    kind: LinkKind,
    { dialect, ack, change, only, ...settings }: Record<string, unknown>,
  ): void {
    const link = { ...newLink(kind, id, id, 'board'), onConnect: false, ...settings } as Link
    if (speaksBytes(link)) {
      const name = typeof dialect === 'string' ? dialect : 'pairs'
      link.dialect = name in DIALECTS ? DIALECTS[name as DialectKind].fresh : DIALECTS.pairs.fresh
      if (!dialectRow(link.dialect).marked) link.reportMark = ''
      link.askCode = makerOf(link.dialect).ask(link.dialect)
      if (isWire(link)) Object.assign(link, { receivePin: 10, sendPin: 11 })
      if (isBluetooth(link)) link.statusPin = 12
      if ('statusPin' in settings) Object.assign(link, { statusPin: settings.statusPin })
    }
    if (typeof settings.numbered === 'number') link.numbered = { windowMs: settings.numbered }
    this.made.links.push(link)
    this.reports.push({
      linkId: id,
      ack: ack !== 'no',
      change: change !== 'no',
      only: typeof only === 'string' ? only.split(',') : null,
    })
  }

  private sensor(
    id: string,
    kind: SensorKind,
    { keys, loadId, floats, ways, ...settings }: Record<string, unknown>,
  ): void {
    const sensor = {
      ...newSensor(
        kind,
        id,
        id,
        'board',
        typeof loadId === 'string' ? loadId : (this.made.loads[0]?.id ?? ''),
      ),
      ...settings,
    } as Sensor
    if (isLadder(sensor) && typeof floats === 'string')
      sensor.floats = floats.split(',').map(level => ({ pin: 0, level: Number(level) }))
    if (isAnalog(sensor) && typeof settings.calibration === 'string') {
      const [raw1 = 0, value1 = 0, raw2 = 0, value2 = 0] = settings.calibration
        .split('/')
        .map(Number)
      sensor.calibration = { raw1, value1, raw2, value2 }
    }
    if (isReceiver(sensor) && typeof keys === 'string') {
      sensor.keys = keys.split(',').map(key => {
        const [code = '', what = ''] = key.split('>')
        const [address = 0, command = 0] = code.split(':').map(Number)
        const [keyLoad = '', asks = ''] = what.split('.')
        return keyLoad === 'scene'
          ? { address, command, sceneId: asks }
          : { address, command, loadId: keyLoad, asks }
      })
    }
    if (isStick(sensor) && typeof ways === 'string')
      sensor.ways = ways.split(',').map(way => {
        const [on = '', what = ''] = way.split('>')
        const [wayLoad = '', asks = ''] = what.split('.')
        const side = on as StickWay
        return wayLoad === 'scene'
          ? { on: side, sceneId: asks }
          : { on: side, loadId: wayLoad, asks }
      })
    for (const line of sensorLines(sensor)) {
      const [first = '', index = '', key = ''] = line.key.split('/')
      if (first === 'floats' && isLadder(sensor))
        Object.assign(sensor.floats[Number(index)] as object, { [key]: this.pins++ })
      else Object.assign(sensor, { [first]: this.pins++ })
    }
    this.made.sensors.push(sensor)
  }

  /** rule NAME SENSOR above 30 back=2 start=yes -> fan=on */
  private rule(id: string, sensorId: string, words: readonly string[]): void {
    const [when = '', what = ''] = words
    const arrow = words.indexOf('->')
    const options = Object.fromEntries(words.slice(2, arrow).map(w => w.split('=')))
    const base = {
      id,
      name: id,
      sensorId,
      atStart: options.start === 'yes',
      ...(words[arrow + 1] === 'scene'
        ? { sets: [], sceneId: words[arrow + 2] ?? '' }
        : { sets: setsIn(words.slice(arrow + 1)), sceneId: null }),
    }
    const limit = Number(what)
    const crossing: Record<string, object> = { is: { text: what }, moved: { limit } }
    const rule = {
      ...base,
      when,
      ...(crossing[when] ?? { limit, back: Number(options.back ?? 0) }),
    }
    this.made.rules.push(rule as Rule)
  }

  design(): Design {
    const { made } = this
    if (this.hand.controls.length) made.surfaces.push(this.hand)
    for (const { linkId, ack, change, only } of this.reports) {
      const link = made.links.find(l => l.id === linkId) as Link
      const loads = made.loads.filter(l => only === null || only.includes(l.id))
      ;(link as { messages: Message[] }).messages = loads.map(({ id, output }) => ({
        loadId: id,
        ack,
        change,
        codes: Object.fromEntries(spokenValues(output).map(v => [v, ''])),
      }))
      const codes = assign(made, link, schoolsOf(link)[0])
      for (const m of link.messages) m.codes = codes[m.loadId] ?? m.codes
      for (const load of loads) {
        const message = (link.messages as Message[]).find(m => m.loadId === load.id)
        if (message && isFine(load.output) && saysNumbers(link))
          message.codes = numberCodesFor(made, link, load, {})
      }
      for (const { id, output } of loads) {
        const message = (link.messages as Message[]).find(m => m.loadId === id) as Message
        for (const wish of RELATIVE.filter(r => relativeOf(output).includes(r)))
          message.codes[wish] = relativeCode(
            made,
            link,
            { id, output } as Design['loads'][number],
            wish,
          )
      }
      for (const scene of made.scenes) link.scenes[scene.id] = sceneCode(made, link, scene)
    }
    for (const { linkId, sensorId, patch } of this.told) {
      const link = made.links.find(l => l.id === linkId)
      if (!link) continue
      const reading = { sensorId, deadBand: 0, leastMs: 0, everyMs: 0, ...patch }
      ;(link.readings as unknown[]).push(
        speaksRoutes(link) ? reading : { code: sensorId, ...reading },
      )
    }
    return made
  }
}

function setsIn(words: readonly string[]): { loadId: string; value: string }[] {
  return words.map(word => {
    const [loadId = '', value = ''] = word.split('=')
    return { loadId, value }
  })
}

/**
 * Numbers as numbers, lists of numbers, true, false and null as what they are, the rest as text.
 */
function valueOf(text: string): unknown {
  if (/^-?\d+(\.\d+)?$/.test(text)) return Number(text)
  if (/^\[[\d,]*\]$/.test(text)) return text.slice(1, -1).split(',').map(Number)
  const words: Record<string, unknown> = { yes: true, none: null }
  return text in words ? words[text] : text
}
