/**
 * The controller at work: one event at a time on a state that is changed in place. `step.ts` wraps
 * it as a pure function; the bench keeps one and saves the copies. Within an event: inputs,
 * gestures, actions, sources, interlocks, lines, memory, reports. Each subject is a layer of its
 * own (`layers/`), a class on top of the one below: nothing in it knows what stands above.
 */
import { asked, restOf } from '../design/values'
import { clock32, reached } from '../units/clock'
import { bootOutcome, elapsed, motionDue, waits } from './outputs/rows'
import { ended } from './outputs/opposed'
import { lasting } from './outputs/switched'
import type { Motion } from './outputs/motion'
import { apart, type Raw } from './readings'
import type { OutputOf } from '../design/schema'
import type { ProgramLamp, ProgramLink, ProgramRule } from './program'
import { lampAfter, type LampNow } from './lamps'
import { ruled } from './rules'
import {
  DARK,
  FREE,
  restingLink,
  startWorking,
  type ControllerEvent,
  type Effect,
  type InputState,
  type Level,
  type LinkState,
  type ToldState,
  type WorkingState,
} from './state'
import { isHeld } from '../design/outputs/traits'

import { Hearing } from './layers/hearing'
import { savedValue } from './layers/memory'

export class Machine extends Hearing {
  /** The effects are the caller's until the next event. */
  handle(event: ControllerEvent): Effect[] {
    if (this.effects.length) this.effects = []
    if (this.changed.length) this.changed = []
    this.writes = false
    this.state.now = clock32(event.now)
    this.clockS = this.program.epochS + Math.floor(event.now / 1000)
    // Only what is received may leave all times as they are; what touches one says so.
    if (event.kind !== 'received') this.dueStands = false
    if (event.kind === 'boot') this.boot(event.levels)
    else if (this.state.running) this.work(event)
    if (this.program.lamps.length) this.light(event)
    return this.effects
  }

  protected light(event: ControllerEvent): void {
    this.lamps(event.kind === 'boot', p => this.lampNow(p, event))
  }

  /** Lamps follow what is so after the event; a start drives them all. */
  protected lamps(boots: boolean, nowOf: (lamp: ProgramLamp) => LampNow): void {
    const { program, state } = this
    program.lamps.forEach((p, i) => {
      const was = state.lamps[i] ?? DARK
      const is = state.running ? lampAfter(p.lamp.shows, was, nowOf(p), state.now) : DARK
      if (is !== was) {
        state.lamps[i] = is
        this.dueStands = false
      }
      if (!state.running || (is.on === was.on && !boots)) return
      const active = p.lamp.activeLevel === 'high'
      this.effects.push({ kind: 'lamp', lamp: i, level: is.on === active ? 1 : 0 })
    })
  }

  private lampNow({ links }: ProgramLamp, event: ControllerEvent): LampNow {
    const { program, state } = this
    return {
      network: event.kind === 'network' ? event.up : null,
      senses: links.some(link => program.links[link]?.senses),
      up: links.some(link => state.links[link]?.up),
      heard: event.kind === 'received' && links.includes(event.link),
      waits: () =>
        program.loads.some(({ output }, i) =>
          waits(output, { value: state.value[i] as string, motion: state.motion[i] ?? null }),
        ),
    }
  }

  protected work(event: Exclude<ControllerEvent, { kind: 'boot' }>): void {
    switch (event.kind) {
      case 'powerOff':
        return this.powerOff()
      case 'tick':
        return this.tick()
      case 'pin':
        return this.pin(event.input, event.level)
      case 'knob':
        return this.turn(event.knob, event.a, event.b)
      case 'infrared':
        return this.infrared(event)
      case 'received':
        return this.received(event.link, event.text, event.request)
      case 'linkUp':
        return this.linkUp(event.link)
      case 'linkDown':
        return this.linkDown(event.link)
      case 'sent':
        return this.sent(event.link)
      case 'sample':
        return this.sample(event.sensor, event.raw)
      // Nothing but lamps follows the network itself.
      case 'network':
        return
      case 'memoryDone':
        return this.memoryDone()
    }
  }

  protected boot(levels: readonly Level[]): void {
    const {
      program,
      state: { now, starts, memory },
    } = this
    const outcomes = program.loads.map((load, i) =>
      bootOutcome(load.output, savedValue(load.output, memory[i] as string), program.holders, now),
    )
    this.state = {
      ...startWorking(program),
      now,
      running: true,
      starts: starts + 1,
      memory,
      value: outcomes.map(o => o.value),
      motion: outcomes.map(o => o.motion),
      inputs: program.inputs.map((_, i) => ({
        level: levels[i] ?? 1,
        pending: null,
        lockedUntil: null,
        run: null,
      })),
      links: program.links.map((l, i) => ({
        ...restingLink(program, i, !l.senses && !l.answersAskers, this.linkAt(i).window),
        everyDue: !l.senses && l.link.everyMs ? clock32(now + l.link.everyMs) : null,
      })),
    }
    this.forget()
    // A lever that decides does so before any line is driven: one write in all.
    this.before = []
    program.inputs.forEach(({ control, load }, i) => {
      if (
        control.kind !== 'latching'
        || control.acts !== 'position'
        || control.sceneId !== null
        || control.atStart !== 'follow'
      )
        return
      const want =
        levels[i] === 0
          ? asked(this.outputOf(load), restOf(this.outputOf(load)), control.asks)
          : restOf(this.outputOf(load))
      this.set(load, want, program.links.length + i, true)
    })
    const changed = this.before
    this.before = null
    program.loads.forEach((_, load) => {
      this.drive(load, null, this.outcomeOf(load))
      const before = changed[load]
      if (before && lasting(before) !== lasting(this.outcomeOf(load))) this.keep(load)
    })
  }

  protected powerOff(): void {
    const { program, state } = this
    this.state = {
      ...startWorking(program),
      now: state.now,
      starts: state.starts,
      memory: state.memory,
      links: state.links.map((l, i) => restingLink(program, i, false, l.window)),
    }
    this.forget()
  }

  /**
   * Timers that are due: inputs, knobs, outputs, saves, readings, links, each in the order of the
   * design.
   */
  protected tick(): void {
    this.tickHands()
    this.tickOutputs()
    this.tickTold()
  }

  private tickHands(): void {
    const { program, state } = this
    const { now } = state
    for (let i = 0; i < state.inputs.length; i++) {
      const { pending, run, lockedUntil } = state.inputs[i] as InputState
      // A lock-out that is over is forgotten, or it would seem to lie ahead again after half a turn
      // of the clock; not while an edge from within it may still count.
      if (lockedUntil !== null && !pending && reached(now, lockedUntil))
        this.patchInput(i, { lockedUntil: null })
      if (pending && reached(now, pending.due)) this.accept(i, pending.level, pending.since)
      else if (run) this.settle(i)
    }
    for (let i = 0; i < state.knobs.length; i++) {
      const knob = state.knobs[i] as WorkingState['knobs'][number]
      if (knob.fastUntil !== null && reached(now, knob.fastUntil))
        state.knobs[i] = { ...knob, fastUntil: null }
    }
    for (let i = 0; i < state.sticks.length; i++) {
      const { way, due } = state.sticks[i] as WorkingState['sticks'][number]
      if (way !== null && due !== null && reached(now, due))
        this.push(i, program.sticks[i]?.targets[way])
    }
  }

  private tickOutputs(): void {
    const { state } = this
    const { now } = state
    for (let load = 0; load < state.motion.length; load++) {
      const motion = state.motion[load] as Motion
      if (!motion) continue
      const due = motionDue(motion)
      if (due !== null && reached(now, due))
        this.become(load, elapsed(this.outputOf(load), this.outcomeOf(load), now))
    }
    for (let load = 0; load < state.saveDue.length; load++) {
      const due = state.saveDue[load] as number | null
      if (due !== null && reached(now, due)) this.save(load)
    }
  }

  private tickTold(): void {
    const { state } = this
    const { now } = state
    for (let i = 0; i < state.told.length; i++) {
      const { freeAt, owed, everyDue } = state.told[i] as ToldState
      const free = freeAt !== null && reached(now, freeAt)
      if (free) this.patchTold(i, { freeAt: null })
      if ((free && owed) || (everyDue !== null && reached(now, everyDue)))
        this.tell(i, this.readingNow(i))
    }
    for (let i = 0; i < state.links.length; i++) {
      const { handed, seen, least, everyDue } = state.links[i] as LinkState
      if (everyDue !== null || least !== null || handed !== null || seen.length > 0)
        this.linkTick(i)
    }
  }

  protected linkTick(index: number): void {
    const { now } = this.state
    const { handed, seen, least, everyDue } = this.linkAt(index)
    if (handed && reached(now, handed.until)) this.patchLink(index, { handed: null })
    if (seen.some(s => reached(now, s.until)))
      this.patchLink(index, { seen: seen.filter(s => !reached(now, s.until)) })
    least?.forEach(({ freeAt, owed }, load) => {
      if (freeAt === null || !reached(now, freeAt)) return
      this.patchLeast(index, load, FREE)
      if (owed) this.tellLoad(index, load)
    })
    if (everyDue === null || !reached(now, everyDue)) return
    const { link } = this.program.links[index] as ProgramLink
    this.patchLink(index, { everyDue: clock32(everyDue + link.everyMs) })
    this.sendState(index)
  }

  /**
   * End contacts stop what runs, rules act, then whoever is told of the value hears it when it
   * moved far enough, and not too often.
   */
  protected sample(sensor: number, raw: Raw): void {
    const { program, state } = this
    state.samples[sensor] = raw
    this.texts[sensor] = undefined
    this.states.length = 0
    const text = this.textOf(sensor)
    program.sticks.forEach((s, i) => {
      if (s.sensor === sensor) this.point(i, raw)
    })
    if (program.ends.length || program.rules.length) {
      this.together(() => {
        for (const end of program.ends)
          if (end.sensor === sensor)
            this.become(
              end.load,
              ended(
                this.outputOf(end.load) as OutputOf<'opposed'>,
                this.outcomeOf(end.load),
                end.direction,
                text === 'closed',
                state.now,
              ),
            )
        program.rules.forEach((r, i) => {
          if (r.sensor !== sensor) return
          const next = ruled(r.rule, state.rules[i] as WorkingState['rules'][number], text)
          state.rules[i] = next.state
          if (next.acts) this.follow(r)
        })
      })
    }
    program.readings.forEach((r, i) => {
      if (r.sensor !== sensor) return
      const told = state.told[i] as ToldState
      // The first value is told whatever it is; a dead band of 0 means any change.
      const far = told.text === '' ? Infinity : apart(text, told.text)
      if (far === 0 || far < r.reading.deadBand) return
      if (told.text === '' || told.freeAt === null || reached(state.now, told.freeAt))
        this.tell(i, text)
      else if (!told.owed) this.patchTold(i, { owed: true })
    })
  }

  /** What a rule sets, when its limit is crossed. */
  protected follow({ sets }: ProgramRule): void {
    for (const { load, value } of sets) this.set(load, value, this.program.holders - 1, false)
  }

  protected linkUp(index: number): void {
    const { link, senses } = this.program.links[index] as ProgramLink
    if (!senses) return
    this.patchLink(index, {
      up: true,
      buffer: '',
      everyDue: link.everyMs ? clock32(this.state.now + link.everyMs) : null,
    })
    if (link.onConnect) this.sendState(index)
  }

  /**
   * A link that the board cannot sense stays as it is: the board goes on sending into the air, a
   * half code waits on.
   */
  protected linkDown(index: number): void {
    if (!this.program.links[index]?.senses) return
    this.patchLink(index, {
      ...restingLink(this.program, index, false, this.linkAt(index).window),
      seen: this.linkAt(index).seen,
      dropped: this.linkAt(index).dropped,
    })
    this.program.loads.forEach((load, i) => {
      if (isHeld(load.output)) this.set(i, 'off', index, false)
    })
  }
}
