/**
 * What a controller does: `step(program, state, event)` handles one event and returns the new state and effects.
 * Integer milliseconds of the controller's own 32-bit clock are handed in; nothing here reads a clock or does I/O.
 * Bench, proof, stand-ins and the generated code are all held against this one definition (docs/behaviour.md).
 */
import { isDatagram } from '../design/links'
import { asked, restOf } from '../design/values'
import { answerOf, doneAnswer } from '../messages/answers'
import { readingBody, readingWire } from '../messages/readings'
import { helloText } from '../messages/table'
import { earlier, clock32, reached } from '../units/clock'
import { feed } from '../messages/stream'
import { bootOutcome, elapsed, isValue, lineLevels, motionDue, restingMotion, wanted, type LineLevel, type Motion, type Outcome } from './outputs'
import { gestureDue, pressDown, pressUp, settled, type PressRun, type PushControl } from './gestures'
import { apart, readingText, type Raw } from './readings'
import type { Gesture, Output, Sensor } from '../design/schema'
import { FRESH, type ReplayWindow } from '../messages/sealing'
import { understood, type Meaning, type Program, type ProgramLink, type Understood } from './program'

/** A pin reads 1 when open (pull-up) and 0 when the contact is closed to ground. */
export type Level = 0 | 1

export interface InputState {
  /** Debounced level. */
  level: Level
  /** A level that has not been stable long enough: since its first edge, accepted at `due`. */
  pending: { level: Level, since: number, due: number } | null
  lockedUntil: number | null
  /** Presses that may still become another gesture. */
  run: PressRun | null
}
export interface LinkState { up: boolean, buffer: string, window: ReplayWindow }
export interface ControllerState {
  now: number
  running: boolean
  starts: number
  /** The value that each load was last told to have: what surfaces should show. */
  value: readonly string[]
  /** What each output has under way. */
  motion: readonly Motion[]
  /** Non-volatile memory: the last saved value, by load. Survives a power cut. */
  memory: readonly string[]
  saveDue: readonly (number | null)[]
  inputs: readonly InputState[]
  /** `window`: counters of signed commands that were taken; kept over a power cut. */
  links: readonly LinkState[]
  /** What each sensor gave last; null before the first time. */
  samples: readonly (Raw | null)[]
  /** By reading of the program: what was told last, and when it is to be told again. */
  told: readonly ToldState[]
}
/** `text`: "" before the first time. */
export interface ToldState { text: string, at: number, due: number | null }

export type ControllerEvent =
  | { kind: 'boot', now: number, levels: readonly Level[] }
  | { kind: 'powerOff', now: number }
  | { kind: 'tick', now: number }
  | { kind: 'pin', now: number, input: number, level: Level }
  | { kind: 'received', now: number, link: number, text: string, request?: number }
  | { kind: 'linkUp', now: number, link: number }
  | { kind: 'linkDown', now: number, link: number }
  | { kind: 'sample', now: number, sensor: number, raw: Raw }

export type Effect =
  /** Level of a line of a load, in the order of `linesOf`: low or high, 0 to 255 where it dims, Hz where it steps. */
  | { kind: 'pin', load: number, line: number, level: LineLevel }
  | { kind: 'send', link: number, text: string }
  /** Answer to one HTTP request: to a command, or to the question for the state. */
  | { kind: 'reply', link: number, text: string, status: 200 | 403 | 404, to: 'command' | 'ask', request: number | undefined }
  | { kind: 'save', load: number, value: string }

export interface Stepped { state: ControllerState, effects: Effect[] }

const UNTOLD: ToldState = { text: '', at: 0, due: null }

export function startController(program: Program): ControllerState {
  return {
    now: 0, running: false, starts: 0,
    value: program.loads.map(l => restOf(l.output)),
    motion: program.loads.map(l => restingMotion(l.output, holdersOf(program))),
    memory: program.loads.map(l => restOf(l.output)),
    saveDue: program.loads.map(() => null),
    inputs: program.inputs.map(() => ({ level: 1, pending: null, lockedUntil: null, run: null })),
    links: program.links.map(() => ({ up: false, buffer: '', window: FRESH })),
    samples: program.design.sensors.map(() => null),
    told: program.readings.map(() => UNTOLD),
  }
}

export function step(program: Program, state: ControllerState, event: ControllerEvent): Stepped {
  const run = new Run(program, { ...state, now: clock32(event.now) })
  if (event.kind === 'boot') run.boot(event.levels)
  else if (state.running) handle(run, event)
  return { state: run.state, effects: run.effects }
}

/** When the controller next wants a tick, or null. */
export function nextDue(state: ControllerState): number | null {
  if (!state.running) return null
  let due: number | null = null
  for (const input of state.inputs) due = earlier(earlier(due, input.pending?.due ?? null), gestureDue(input.run, input.pending?.level ?? null))
  for (const motion of state.motion) due = earlier(due, motionDue(motion))
  for (const save of state.saveDue) due = earlier(due, save)
  for (const told of state.told) due = earlier(due, told.due)
  return due
}

/** Who can hold a held output: each link, then each hand control. */
function holdersOf(program: Program): number {
  return program.links.length + program.inputs.length
}

function handle(run: Run, event: Exclude<ControllerEvent, { kind: 'boot' }>): void {
  switch (event.kind) {
    case 'powerOff': return run.powerOff()
    case 'tick': return run.tick()
    case 'pin': return run.pin(event.input, event.level)
    case 'received': return run.received(event.link, event.text, event.request)
    case 'linkUp': return run.linkUp(event.link)
    case 'linkDown': return run.linkDown(event.link)
    case 'sample': return run.sample(event.sensor, event.raw)
  }
}

/** One step in the making. Arrays are copied on write, so the state before stays as it was. */
class Run {
  readonly effects: Effect[] = []
  constructor(readonly program: Program, public state: ControllerState) {}

  boot(levels: readonly Level[]): void {
    const { program } = this
    const memory = this.state.memory
    const outcomes = program.loads.map((load, i) => bootOutcome(load.output, savedValue(load.output, memory[i] as string), holdersOf(program)))
    this.state = {
      ...startController(program), now: this.state.now, running: true, starts: this.state.starts + 1, memory,
      value: outcomes.map(o => o.value), motion: outcomes.map(o => o.motion),
      inputs: program.inputs.map((_, i) => ({ level: levels[i] ?? 1, pending: null, lockedUntil: null, run: null })),
      links: program.links.map((l, i) => ({ up: !l.senses, buffer: '', window: this.window(i) })),
    }
    outcomes.forEach((outcome, load) => this.drive(load, null, outcome))
  }

  powerOff(): void {
    this.state = { ...startController(this.program), now: this.state.now, starts: this.state.starts, memory: this.state.memory, links: this.state.links.map(l => ({ up: false, buffer: '', window: l.window })) }
  }

  /** Timers that are due: inputs, then outputs, then saves, each in the order of the design. */
  tick(): void {
    this.state.inputs.forEach((input, i) => {
      if (input.pending && reached(this.state.now, input.pending.due)) this.accept(i, input.pending.level, input.pending.since)
      else if (input.run) this.settle(i)
    })
    this.state.motion.forEach((motion, load) => {
      if (motion) this.become(load, elapsed(this.outputOf(load), { value: this.state.value[load] as string, motion }, this.state.now))
    })
    this.state.saveDue.forEach((due, load) => {
      if (due !== null && reached(this.state.now, due)) this.save(load)
    })
    this.state.told.forEach((told, i) => {
      if (told.due !== null && reached(this.state.now, told.due)) this.tell(i, this.readingNow(i))
    })
  }

  /** A sensor gave a value. Whoever is told of it hears it when it moved far enough, and not too often. */
  sample(sensor: number, raw: Raw): void {
    this.state.samples = replaced(this.state.samples, sensor, raw)
    this.program.readings.forEach((r, i) => {
      if (r.sensor !== sensor) return
      const text = this.readingNow(i)
      const told = this.state.told[i] ?? UNTOLD
      const far = apart(text, told.text)
      // A dead band of 0 means any change.
      if (far === 0 || far < r.reading.deadBand) return
      const free = clock32(told.at + r.reading.leastMs)
      if (told.text === '' || reached(this.state.now, free)) this.tell(i, text)
      else this.patchTold(i, { due: earlier(told.due, free) })
    })
  }

  private readingNow(i: number): string {
    const { sensor } = this.program.readings[i] as Program['readings'][number]
    return readingText(this.program.design.sensors[sensor] as Sensor, this.state.samples[sensor] ?? null)
  }

  /** Tells a reading, and plans when it is told again. */
  private tell(i: number, text: string): void {
    const { link, reading } = this.program.readings[i] as Program['readings'][number]
    const program = this.program.links[link] as ProgramLink
    const { everyMs } = reading
    this.patchTold(i, { text, at: this.state.now, due: everyMs ? clock32(this.state.now + everyMs) : null })
    if (text !== '' && (program.link.kind !== 'http' || program.streams)) this.send(link, readingWire(program.link, reading, text))
  }

  private patchTold(i: number, patch: Partial<ToldState>): void {
    this.state.told = replaced(this.state.told, i, { ...(this.state.told[i] as ToldState), ...patch })
  }

  /** Readings of a link that are known, as bodies or as they are sent. */
  private readingsOn(index: number, form: typeof readingBody): string[] {
    return this.program.readings.flatMap((r, i) => {
      const text = r.link === index ? this.readingNow(i) : ''
      return text === '' ? [] : [form((this.program.links[index] as ProgramLink).link, r.reading, text)]
    })
  }

  pin(index: number, level: Level): void {
    const input = this.state.inputs[index] as InputState
    const { debounceMs } = (this.program.inputs[index] as Program['inputs'][number]).control
    if (level === input.level) {
      this.patchInput(index, { pending: null })
      this.settle(index)
    }
    else if (debounceMs === 0) this.accept(index, level, this.state.now)
    else if (input.pending?.level !== level) this.patchInput(index, { pending: { level, since: this.state.now, due: clock32(this.state.now + debounceMs) } })
  }

  received(index: number, text: string, request: number | undefined): void {
    const link = this.program.links[index] as ProgramLink
    if (link.link.kind === 'http') this.route(index, link, text, request)
    else {
      for (const char of text) this.char(index, link, char)
      // A datagram is whole: what is left half-read at its end is no start of the next.
      if (isDatagram(link.link)) this.patchLink(index, { buffer: '' })
    }
  }

  linkUp(index: number): void {
    const link = this.program.links[index] as ProgramLink
    if (!link.senses) return
    this.patchLink(index, { up: true, buffer: '' })
    if (link.link.onConnect) this.sendState(index, link)
  }

  /** A link that the board cannot sense stays as it is: the board goes on sending into the air, a half code waits on. */
  linkDown(index: number): void {
    if (!this.program.links[index]?.senses) return
    this.patchLink(index, { up: false, buffer: '' })
    this.program.loads.forEach((load, i) => {
      if (load.output.kind === 'held') this.set(i, 'off', index, false)
    })
  }

  private window(index: number): ReplayWindow { return this.state.links[index]?.window ?? FRESH }

  private patchLink(index: number, patch: Partial<LinkState>): void {
    this.state.links = replaced(this.state.links, index, { ...(this.state.links[index] as LinkState), ...patch })
  }

  private char(index: number, link: ProgramLink, char: string): void {
    const { buffer, heard } = feed(link.reader, this.state.links[index]?.buffer ?? '', char)
    this.patchLink(index, { buffer })
    for (const h of heard) {
      const meaning = this.meaning(index, understood(link, this.window(index), h.kind === 'code' ? h.code : h.bytes))
      switch (meaning?.kind) {
        case undefined:
          this.send(index, link.error)
          break
        case 'ask':
          this.sendState(index, link)
          break
        case 'hello':
          this.send(index, this.helloText(link))
          break
        default: for (const { load, value } of meaning?.kind === 'scene' ? meaning.sets : meaning?.kind === 'set' ? [meaning] : []) this.command(index, link, load, this.meant(load, value))
      }
    }
  }

  /** What was understood; a counter that was taken is not taken again. */
  private meaning(index: number, found: Understood): Meaning | undefined {
    if (found.kind !== 'meant') return undefined
    if (found.window !== this.window(index)) this.patchLink(index, { window: found.window })
    return found.meaning
  }

  private helloText(link: ProgramLink): string { return helloText(link.link, this.program.fingerprint, this.state.starts) }

  private route(index: number, link: ProgramLink, route: string, request: number | undefined): void {
    const found = understood(link, this.window(index), route)
    const meaning = this.meaning(index, found)
    const answers = link.link.kind === 'http' ? link.link.answers : 'text'
    const reply = (text: string, status: 200 | 403 | 404, to: 'command' | 'ask') => this.effects.push({ kind: 'reply', link: index, text, status, to, request })
    switch (meaning?.kind) {
      case undefined: return void (found.kind === 'refused' ? reply('not allowed', 403, 'command') : reply('no such route', 404, 'command'))
      case 'ask': return void reply(this.stateText(index, link), 200, 'ask')
      case 'hello': return void reply(this.helloText(link), 200, 'command')
    }
    const sets = meaning?.kind === 'scene' ? meaning.sets : meaning?.kind === 'set' ? [meaning] : []
    for (const { load, value } of sets) this.command(index, link, load, this.meant(load, value))
    const told = sets.flatMap(({ load }) => link.messages[load]?.ack ? [this.line(link, load)] : [])
    reply(told.length ? answerOf(answers, told) : doneAnswer(answers), 200, 'command')
  }

  /** A command sets the output; its link hears an acknowledgement when designed so, at most one report in all. */
  private command(index: number, link: ProgramLink, load: number, value: string): void {
    const told = this.set(load, value, index, false)
    const ack = link.messages[load]?.ack === true && (link.link.kind !== 'http' || link.streams)
    if (ack && !told.has(index)) this.send(index, this.report(link, load))
  }

  /** The value that a code means: its own, or from the value there is. */
  private meant(load: number, asks: string): string {
    return asked(this.outputOf(load), this.state.value[load] as string, asks)
  }

  /** Returns the links that were told of the change. `holder` matters to held outputs only. */
  private set(load: number, value: string, holder: number, byHand: boolean): Set<number> {
    const outcome = { value: this.state.value[load] as string, motion: this.state.motion[load] as Motion }
    return this.become(load, wanted(this.outputOf(load), outcome, value, this.state.now, holder, byHand))
  }

  /** Takes over what an output came to: lines, then memory, then reports. */
  private become(load: number, next: Outcome): Set<number> {
    const told = new Set<number>()
    const before: Outcome = { value: this.state.value[load] as string, motion: this.state.motion[load] as Motion }
    if (next.motion !== before.motion) this.state.motion = replaced(this.state.motion, load, next.motion)
    if (next.value !== before.value) this.state.value = replaced(this.state.value, load, next.value)
    if (next.value !== before.value || next.motion !== before.motion) this.drive(load, before, next)
    if (next.value === before.value) return told
    const output = this.outputOf(load)
    if ('powerUp' in output && output.powerUp === 'last') {
      this.state.saveDue = replaced(this.state.saveDue, load, clock32(this.state.now + output.saveDelayMs))
      if (output.saveDelayMs === 0) this.save(load)
    }
    this.program.links.forEach((link, index) => {
      if (!link.messages[load]?.change || (link.link.kind === 'http' && !link.streams)) return
      if (this.send(index, this.report(link, load))) told.add(index)
    })
    return told
  }

  private accept(index: number, level: Level, since: number): void {
    const { control, load } = this.program.inputs[index] as Program['inputs'][number]
    const { lockedUntil } = this.state.inputs[index] as InputState
    this.patchInput(index, { level, pending: null })
    const output = this.outputOf(load)
    const holder = this.program.links.length + index
    const current = this.state.value[load] as string
    if (control.kind === 'latching') {
      const closed = level === 0
      const want = control.acts === 'position' || output.kind === 'held' ? closed ? asked(output, restOf(output), control.asks) : restOf(output) : pressed(output, current, control.asks)
      this.set(load, want, holder, true)
      return
    }
    if (control.gestures.length) return this.gesture(index, control, level, since)
    if (output.kind === 'held' && level === 1) this.set(load, 'off', holder, true)
    if (level === 1 || (lockedUntil !== null && !reached(since, lockedUntil))) return
    this.patchInput(index, { lockedUntil: control.lockoutMs ? clock32(since + control.lockoutMs) : null })
    this.set(load, pressed(output, current, control.asks), holder, true)
  }

  /** A debounced edge of a button that knows several gestures. Presses within a run are not locked out. */
  private gesture(index: number, control: PushControl, level: Level, since: number): void {
    const { run, lockedUntil } = this.state.inputs[index] as InputState
    if (level === 0 && !run && lockedUntil !== null && !reached(since, lockedUntil)) return
    const next = level === 0 ? pressDown(control, run, since) : pressUp(run)
    this.patchInput(index, { run: next.run })
    if (next.done) this.complete(index, next.done)
    else this.settle(index)
  }

  /** Acts on what time alone completes. */
  private settle(index: number): void {
    const { run, pending } = this.state.inputs[index] as InputState
    const done = settled(run, pending?.level ?? null, this.state.now)
    if (done) this.complete(index, done)
  }

  private complete(index: number, done: Gesture): void {
    const { control, targets } = this.program.inputs[index] as Program['inputs'][number]
    const { run } = this.state.inputs[index] as InputState
    const lockoutMs = control.kind === 'push' ? control.lockoutMs : 0
    this.patchInput(index, { run: null, lockedUntil: lockoutMs && run ? clock32(run.last + lockoutMs) : null })
    const target = targets[done]
    if (target) this.set(target.load, pressed(this.outputOf(target.load), this.state.value[target.load] as string, target.asks), this.program.links.length + index, true)
  }

  private save(load: number): void {
    const value = this.state.value[load] as string
    this.state.saveDue = replaced(this.state.saveDue, load, null)
    if (this.state.memory[load] === value) return
    this.state.memory = replaced(this.state.memory, load, value)
    this.effects.push({ kind: 'save', load, value })
  }

  private outputOf(load: number): Output { return (this.program.loads[load] as Program['loads'][number]).output }

  /** Writes the lines that differ; all of them where nothing was driven before. */
  private drive(load: number, before: Outcome | null, next: Outcome): void {
    const output = this.outputOf(load)
    const were = before && lineLevels(output, before)
    const are = lineLevels(output, next)
    // Lines that fall are written before lines that rise, so that opposed ones are never on together.
    for (const rising of [false, true]) {
      are.forEach((energised, line) => {
        if (were?.[line] !== energised && (energised > (were?.[line] ?? 0)) === rising) this.effects.push({ kind: 'pin', load, line, level: electrical(output, line, energised) })
      })
    }
  }

  private send(index: number, text: string): boolean {
    if (!this.state.links[index]?.up || text === '') return false
    this.effects.push({ kind: 'send', link: index, text })
    return true
  }

  private sendState(index: number, link: ProgramLink): void {
    this.send(index, this.stateText(index, link))
  }

  private stateText(index: number, link: ProgramLink): string {
    const carried = link.messages.flatMap(m => m ? [m.load] : [])
    return link.link.kind === 'http'
      ? answerOf(link.link.answers, [...carried.map(load => this.line(link, load)), ...this.readingsOn(index, readingBody)])
      : [...carried.map(load => this.report(link, load)), ...this.readingsOn(index, readingWire)].join('')
  }

  /** "fan=1" of a load. */
  private line(link: ProgramLink, load: number): string {
    return link.messages[load]?.lines.get(this.state.value[load] as string) ?? ''
  }

  private report(link: ProgramLink, load: number): string {
    const message = link.messages[load]
    return message?.reports.get(this.state.value[load] as string) ?? ''
  }

  private patchInput(index: number, patch: Partial<InputState>): void {
    this.state.inputs = replaced(this.state.inputs, index, { ...(this.state.inputs[index] as InputState), ...patch })
  }
}

/** A press for a direction that runs already stops it. */
function pressed(output: Output, current: string, asks: string): string {
  const want = asked(output, current, asks)
  return output.kind === 'opposed' && want === current ? restOf(output) : want
}

/** Memory that an older program wrote may hold what is no value any more. */
function savedValue(output: Output, saved: string): string {
  return isValue(output, saved) ? saved : restOf(output)
}

/** From energised to what stands on the pin. Stepper lines have fixed senses: step and direction high, enable low. */
function electrical(output: Output, line: number, energised: LineLevel): LineLevel {
  if (output.kind === 'opposed' && output.drive === 'stepper') return line === 2 ? Number(!energised) : energised
  if (output.activeLevel === 'high') return energised
  return output.kind === 'level' ? 255 - energised : Number(!energised)
}

function replaced<T>(list: readonly T[], index: number, item: T): readonly T[] {
  const copy = list.slice()
  copy[index] = item
  return copy
}
