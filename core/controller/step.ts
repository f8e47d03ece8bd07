/**
 * What a controller does: `step(program, state, event)` handles one event and returns the new state and effects.
 * Integer milliseconds of the controller's own 32-bit clock are handed in; nothing here reads a clock or does I/O.
 * Bench, proof, stand-ins and the generated code are all held against this one definition (docs/behaviour.md).
 */
import { earlier, clock32, reached } from '../units/clock'
import { feed } from '../messages/stream'
import type { Program, ProgramLink } from './program'

/** A pin reads 1 when open (pull-up) and 0 when the contact is closed to ground. */
export type Level = 0 | 1

export interface InputState {
  /** Debounced level. */
  level: Level
  /** A level that has not been stable long enough: since its first edge, accepted at `due`. */
  pending: { level: Level, since: number, due: number } | null
  lockedUntil: number | null
}
export interface ControllerState {
  now: number
  running: boolean
  starts: number
  /** Energised, by load. */
  on: readonly boolean[]
  /** Non-volatile memory: the last saved value, by load. Survives a power cut. */
  memory: readonly boolean[]
  saveDue: readonly (number | null)[]
  inputs: readonly InputState[]
  links: readonly { up: boolean, buffer: string }[]
}

export type ControllerEvent =
  | { kind: 'boot', now: number, levels: readonly Level[] }
  | { kind: 'powerOff', now: number }
  | { kind: 'tick', now: number }
  | { kind: 'pin', now: number, input: number, level: Level }
  | { kind: 'received', now: number, link: number, text: string, request?: number }
  | { kind: 'linkUp', now: number, link: number }
  | { kind: 'linkDown', now: number, link: number }

export type Effect =
  /** Level of the output pin of a load. */
  | { kind: 'pin', load: number, level: Level }
  | { kind: 'send', link: number, text: string }
  /** Answer to one HTTP request: to a command, or to the question for the state. */
  | { kind: 'reply', link: number, text: string, status: 200 | 404, to: 'command' | 'ask', request: number | undefined }
  | { kind: 'save', load: number, value: boolean }

export interface Stepped { state: ControllerState, effects: Effect[] }

export function startController(program: Program): ControllerState {
  return {
    now: 0, running: false, starts: 0,
    on: program.loads.map(() => false),
    memory: program.loads.map(() => false),
    saveDue: program.loads.map(() => null),
    inputs: program.inputs.map(() => ({ level: 1, pending: null, lockedUntil: null })),
    links: program.links.map(() => ({ up: false, buffer: '' })),
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
  for (const input of state.inputs) due = earlier(due, input.pending?.due ?? null)
  for (const save of state.saveDue) due = earlier(due, save)
  return due
}

function handle(run: Run, event: Exclude<ControllerEvent, { kind: 'boot' }>): void {
  switch (event.kind) {
    case 'powerOff': return run.powerOff()
    case 'tick': return run.tick()
    case 'pin': return run.pin(event.input, event.level)
    case 'received': return run.received(event.link, event.text, event.request)
    case 'linkUp': return run.linkUp(event.link)
    case 'linkDown': return run.linkDown(event.link)
  }
}

/** One step in the making. Arrays are copied on write, so the state before stays as it was. */
class Run {
  readonly effects: Effect[] = []
  constructor(readonly program: Program, public state: ControllerState) {}

  boot(levels: readonly Level[]): void {
    const { program } = this
    const memory = this.state.memory
    const on = program.loads.map((load, i) => load.output.powerUp === 'on' || (load.output.powerUp === 'last' && memory[i] === true))
    this.state = {
      ...startController(program), now: this.state.now, running: true, starts: this.state.starts + 1, memory, on,
      inputs: program.inputs.map((_, i) => ({ level: levels[i] ?? 1, pending: null, lockedUntil: null })),
      links: program.links.map(l => ({ up: !l.senses, buffer: '' })),
    }
    on.forEach((_, load) => this.drive(load))
  }

  powerOff(): void {
    this.state = { ...startController(this.program), now: this.state.now, starts: this.state.starts, memory: this.state.memory }
  }

  /** Timers that are due, inputs before saves. */
  tick(): void {
    this.state.inputs.forEach((input, i) => {
      if (input.pending && reached(this.state.now, input.pending.due)) this.accept(i, input.pending.level, input.pending.since)
    })
    this.state.saveDue.forEach((due, load) => {
      if (due !== null && reached(this.state.now, due)) this.save(load)
    })
  }

  pin(index: number, level: Level): void {
    const input = this.state.inputs[index] as InputState
    const { debounceMs } = (this.program.inputs[index] as Program['inputs'][number]).control
    if (level === input.level) this.patchInput(index, { pending: null })
    else if (debounceMs === 0) this.accept(index, level, this.state.now)
    else if (input.pending?.level !== level) this.patchInput(index, { pending: { level, since: this.state.now, due: clock32(this.state.now + debounceMs) } })
  }

  received(index: number, text: string, request: number | undefined): void {
    const link = this.program.links[index] as ProgramLink
    if (link.link.kind === 'http') this.route(index, link, text, request)
    else for (const char of text) this.char(index, link, char)
  }

  linkUp(index: number): void {
    const link = this.program.links[index] as ProgramLink
    if (!link.senses) return
    this.patchLink(index, { up: true, buffer: '' })
    if (link.link.onConnect) this.sendState(index, link)
  }

  /** A link that the board cannot sense stays as it is: the board goes on sending into the air, a half code waits on. */
  linkDown(index: number): void {
    if (this.program.links[index]?.senses) this.patchLink(index, { up: false, buffer: '' })
  }

  private patchLink(index: number, patch: Partial<{ up: boolean, buffer: string }>): void {
    this.state.links = replaced(this.state.links, index, { ...(this.state.links[index] as { up: boolean, buffer: string }), ...patch })
  }

  private char(index: number, link: ProgramLink, char: string): void {
    const { buffer, heard } = feed(link.codes, this.state.links[index]?.buffer ?? '', char)
    this.patchLink(index, { buffer })
    for (const h of heard) {
      if (h.kind !== 'code') continue
      const meaning = link.meanings.get(h.code)
      if (meaning?.kind === 'ask') this.sendState(index, link)
      else if (meaning) this.command(index, link, meaning.load, meaning.value)
    }
  }

  private route(index: number, link: ProgramLink, route: string, request: number | undefined): void {
    const meaning = link.meanings.get(route)
    if (!meaning) this.effects.push({ kind: 'reply', link: index, text: 'no such route', status: 404, to: 'command', request })
    else if (meaning.kind === 'ask') this.effects.push({ kind: 'reply', link: index, text: this.stateText(link), status: 200, to: 'ask', request })
    else {
      this.command(index, link, meaning.load, meaning.value)
      const answer = link.messages[meaning.load]?.ack ? this.report(link, meaning.load) : 'ok'
      this.effects.push({ kind: 'reply', link: index, text: answer, status: 200, to: 'command', request })
    }
  }

  /** A command sets the output; its link hears an acknowledgement when designed so, at most one report in all. */
  private command(index: number, link: ProgramLink, load: number, value: boolean): void {
    const told = this.set(load, value)
    const ack = link.messages[load]?.ack === true && (link.link.kind !== 'http' || link.streams)
    if (ack && !told.has(index)) this.send(index, this.report(link, load))
  }

  /** Returns the links that were told of the change. */
  private set(load: number, value: boolean): Set<number> {
    const told = new Set<number>()
    if (this.state.on[load] === value) return told
    this.state.on = replaced(this.state.on, load, value)
    this.drive(load)
    const { powerUp, saveDelayMs } = (this.program.loads[load] as Program['loads'][number]).output
    if (powerUp === 'last') {
      this.state.saveDue = replaced(this.state.saveDue, load, clock32(this.state.now + saveDelayMs))
      if (saveDelayMs === 0) this.save(load)
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
    if (control.kind === 'latching') {
      this.set(load, control.acts === 'position' ? level === 0 : !this.state.on[load])
      return
    }
    if (level === 1 || (lockedUntil !== null && !reached(since, lockedUntil))) return
    this.patchInput(index, { lockedUntil: control.lockoutMs ? clock32(since + control.lockoutMs) : null })
    this.set(load, !this.state.on[load])
  }

  private save(load: number): void {
    const value = this.state.on[load] === true
    this.state.saveDue = replaced(this.state.saveDue, load, null)
    if (this.state.memory[load] === value) return
    this.state.memory = replaced(this.state.memory, load, value)
    this.effects.push({ kind: 'save', load, value })
  }

  private drive(load: number): void {
    const { activeLevel } = (this.program.loads[load] as Program['loads'][number]).output
    const active: Level = activeLevel === 'high' ? 1 : 0
    this.effects.push({ kind: 'pin', load, level: this.state.on[load] ? active : active === 1 ? 0 : 1 })
  }

  private send(index: number, text: string): boolean {
    if (!this.state.links[index]?.up || text === '') return false
    this.effects.push({ kind: 'send', link: index, text })
    return true
  }

  private sendState(index: number, link: ProgramLink): void {
    this.send(index, this.stateText(link))
  }

  private stateText(link: ProgramLink): string {
    const parts = link.messages.flatMap(m => m ? [this.report(link, m.load)] : [])
    return parts.join(link.link.kind === 'http' ? '\n' : '')
  }

  private report(link: ProgramLink, load: number): string {
    const message = link.messages[load]
    return message ? (this.state.on[load] ? message.on : message.off) : ''
  }

  private patchInput(index: number, patch: Partial<InputState>): void {
    this.state.inputs = replaced(this.state.inputs, index, { ...(this.state.inputs[index] as InputState), ...patch })
  }
}

function replaced<T>(list: readonly T[], index: number, item: T): readonly T[] {
  const copy = list.slice()
  copy[index] = item
  return copy
}
