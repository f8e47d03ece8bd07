/**
 * The controller at work: one event at a time on a state that is changed in place. `step.ts` wraps
 * it as a pure function; the bench keeps one and saves the copies. Within an event: inputs,
 * gestures, actions, sources, interlocks, lines, memory, reports.
 */
import { isDatagram, speaksBytes, speaksRoutes } from '../design/links/traits'
import { asked, restOf } from '../design/values'
import { endOf } from '../design/wire'
import { answerOf, doneAnswer } from '../messages/answers'
import { readingBody, readingWire } from '../messages/readings'
import { toldCounter } from '../messages/sealing'
import { helloText } from '../messages/table'
import { clock32, reached } from '../units/clock'
import { feed, type Heard } from '../messages/stream'
import { adopted } from './outputs/follower'
import {
  adopts,
  bootOutcome,
  elapsed,
  isValue,
  lineLevels,
  motionDue,
  wanted,
} from './outputs/rows'
import { ended } from './outputs/opposed'
import { lasting } from './outputs/switched'
import type { Motion, Outcome } from './outputs/motion'
import { pressDown, pressUp, settled, type PushControl } from './gestures'
import { apart, readingText, type Raw } from './readings'
import type { Gesture, Output, Sensor } from '../design/schema'
import { turned } from './knobs'
import {
  heardIn,
  understood,
  type Meaning,
  type Program,
  type ProgramLink,
  type Understood,
} from './program'
import { ruled } from './rules'
import {
  FREE,
  nextDue,
  restingLink,
  startWorking,
  UNTOLD,
  type ControllerEvent,
  type Effect,
  type InputState,
  type Level,
  type LeastState,
  type LinkState,
  type Status,
  type ToldState,
  type Waiting,
  WHOLE_STATE,
  type WorkingState,
} from './state'
import {
  actsAgain,
  isFollower,
  isHeld,
  isLevel,
  isOpposed,
  isStepper,
} from '../design/outputs/traits'
import { isReceiver } from '../design/sensors/traits'

/** The links that were told something by a change, a bit each. */
type Told = number

export class Machine {
  effects: Effect[] = []
  /** Loads whose value changed in the event; a start or a power cut may change any. */
  changed: number[] = []
  /**
   * When it next wants a tick; looked for again only after something that has a time was touched.
   */
  private due: number | null = null
  private dueStands = false
  /**
   * Loads that changed within an event that may set several, and what they were before; null
   * outside of such an event.
   */
  private before: (Outcome | undefined)[] | null = null
  /** What the links whose memory write began in this event may still add to. */
  private writes = false
  /** The whole state as text, by link; made anew after anything changed. */
  private readonly states: (string | undefined)[] = []
  private readonly texts: (string | undefined)[] = []

  constructor(
    readonly program: Program,
    public state: WorkingState,
  ) {}

  get nextDue(): number | null {
    if (!this.dueStands) {
      this.due = nextDue(this.state)
      this.dueStands = true
    }
    return this.due
  }

  /** The effects are the caller's until the next event. */
  handle(event: ControllerEvent): Effect[] {
    if (this.effects.length) this.effects = []
    if (this.changed.length) this.changed = []
    this.writes = false
    this.state.now = clock32(event.now)
    // Only what is received may leave all times as they are; what touches one says so.
    if (event.kind !== 'received') this.dueStands = false
    if (event.kind === 'boot') this.boot(event.levels)
    else if (this.state.running) this.work(event)
    return this.effects
  }

  private work(event: Exclude<ControllerEvent, { kind: 'boot' }>): void {
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
      case 'memoryDone':
        return this.memoryDone()
    }
  }

  private boot(levels: readonly Level[]): void {
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

  private powerOff(): void {
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
  private tick(): void {
    const { state } = this
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
    for (let i = 0; i < state.told.length; i++) {
      const { freeAt, owed, everyDue } = state.told[i] as ToldState
      const free = freeAt !== null && reached(now, freeAt)
      if (free) this.patchTold(i, { freeAt: null })
      if ((free && owed) || (everyDue !== null && reached(now, everyDue)))
        this.tell(i, this.readingNow(i))
    }
    for (let i = 0; i < state.links.length; i++) {
      const { seen, least, everyDue } = state.links[i] as LinkState
      if (everyDue !== null || least !== null || seen.length > 0) this.linkTick(i)
    }
  }

  private linkTick(index: number): void {
    const { now } = this.state
    const { seen, least, everyDue } = this.linkAt(index)
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
  private sample(sensor: number, raw: Raw): void {
    const { program, state } = this
    state.samples[sensor] = raw
    this.texts[sensor] = undefined
    this.states.length = 0
    const text = this.textOf(sensor)
    if (program.ends.length || program.rules.length) {
      this.together(() => {
        for (const end of program.ends)
          if (end.sensor === sensor)
            this.become(
              end.load,
              ended(
                this.outputOf(end.load) as Extract<Output, { kind: 'opposed' }>,
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
          if (next.acts)
            for (const { load, value } of r.sets) this.set(load, value, program.holders - 1, false)
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

  private textOf(sensor: number): string {
    return (this.texts[sensor] ??= readingText(
      this.program.design.sensors[sensor] as Sensor,
      this.state.samples[sensor] ?? null,
    ))
  }

  private readingNow(i: number): string {
    return this.textOf((this.program.readings[i] as Program['readings'][number]).sensor)
  }

  /** Tells a reading, and plans when it may and when it has to be told again. */
  private tell(i: number, text: string): void {
    const { link, reading } = this.program.readings[i] as Program['readings'][number]
    const { leastMs, everyMs } = reading
    const { now } = this.state
    this.patchTold(i, {
      text,
      freeAt: leastMs ? clock32(now + leastMs) : null,
      owed: false,
      everyDue: everyMs ? clock32(now + everyMs) : null,
    })
    if (text !== '' && this.unasked(link)) this.send(link, -1 - i)
  }

  private patchTold(i: number, patch: Partial<ToldState>): void {
    this.state.told[i] = { ...(this.state.told[i] ?? UNTOLD), ...patch }
  }

  /** Readings of a link that are known, as bodies or as they are sent. */
  private readingsOn(index: number, form: typeof readingBody): string[] {
    return this.program.readings.flatMap((r, i) => {
      const text = r.link === index ? this.readingNow(i) : ''
      return text === ''
        ? []
        : [form((this.program.links[index] as ProgramLink).link, r.reading, text)]
    })
  }

  private pin(index: number, level: Level): void {
    const input = this.state.inputs[index] as InputState
    const { debounceMs } = (this.program.inputs[index] as Program['inputs'][number]).control
    if (level === input.level) {
      if (input.pending) this.patchInput(index, { pending: null })
      this.settle(index)
    } else if (debounceMs === 0) this.accept(index, level, this.state.now)
    else if (input.pending?.level !== level)
      this.patchInput(index, {
        pending: { level, since: this.state.now, due: clock32(this.state.now + debounceMs) },
      })
  }

  private turn(index: number, a: Level, b: Level): void {
    const { knob, load } = this.program.knobs[index] as Program['knobs'][number]
    const { state, detents } = turned(
      this.state.knobs[index] as WorkingState['knobs'][number],
      a,
      b,
      knob.countsPerDetent,
      knob.accelerated,
      this.state.now,
    )
    this.state.knobs[index] = state
    if (detents === 0) return
    this.together(() => {
      for (let n = Math.abs(detents); n > 0; n--)
        this.set(
          load,
          this.meant(load, detents > 0 ? 'up' : 'down'),
          this.program.holders - 2,
          false,
        )
    })
  }

  /**
   * A repeat frame counts for what is held and for levels; anything else would be done again and
   * again.
   */
  private infrared({
    sensor,
    address,
    command,
    repeat,
  }: Extract<ControllerEvent, { kind: 'infrared' }>): void {
    const receiver = this.program.design.sensors[sensor]
    const key = isReceiver(receiver)
      ? receiver.keys.find(k => k.address === address && k.command === command)
      : undefined
    const load = key && this.program.loadIndex.get(key.loadId)
    if (!key || load === undefined) return
    const output = this.outputOf(load)
    if (repeat && !actsAgain(output)) return
    this.set(
      load,
      pressed(output, this.state.value[load] as string, key.asks),
      this.program.holders - 2,
      false,
    )
  }

  private received(index: number, text: string, request: number | undefined): void {
    const link = this.program.links[index] as ProgramLink
    if (speaksRoutes(link.link)) return this.route(index, link, text, request)
    const { buffer } = this.linkAt(index)
    if (buffer === '') {
      const { heard, buffer: rest } = heardIn(link, text)
      for (const h of heard) this.hear(index, link, h)
      if (rest !== '') this.patchLink(index, { buffer: rest })
    } else for (const char of text) this.char(index, link, char)
    // A datagram is whole: what is left half-read at its end is no start of the next.
    if (isDatagram(link.link) && this.linkAt(index).buffer !== '')
      this.patchLink(index, { buffer: '' })
  }

  private linkUp(index: number): void {
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
  private linkDown(index: number): void {
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

  /** What is on its way has left: the next that waits follows, made from the state of now. */
  private sent(index: number): void {
    const { queue } = this.linkAt(index)
    if (queue.length === 0) return this.patchLink(index, { busy: false })
    this.patchLink(index, { queue: queue.slice(1) })
    this.emit(index, queue[0] as Waiting)
  }

  private linkAt(index: number): LinkState {
    return this.state.links[index] as LinkState
  }

  private patchLink(index: number, patch: Partial<LinkState>): void {
    this.dueStands = false
    this.state.links[index] = { ...this.linkAt(index), ...patch }
  }

  private patchLeast(index: number, load: number, least: LeastState): void {
    this.patchLink(index, { least: (this.linkAt(index).least ?? []).with(load, least) })
  }

  private char(index: number, link: ProgramLink, char: string): void {
    const { buffer, heard } = feed(link.reader, this.linkAt(index).buffer, char)
    this.patchLink(index, { buffer })
    for (const h of heard) this.hear(index, link, h)
  }

  private hear(index: number, link: ProgramLink, heard: Heard): void {
    const found = understood(
      link,
      this.linkAt(index).window,
      heard.kind === 'code' ? heard.code : heard.bytes,
    )
    const meaning = this.meaning(index, found)
    // Whoever says something that is understood is who asked last; nonsense is answered and leaves
    // no trace.
    const knew = this.linkAt(index).up
    if (link.answersAskers && !knew) this.patchLink(index, { up: true })
    if (!meaning) {
      const told =
        found.kind === 'refused' && found.told !== undefined
          ? toldCounter(link.link, found.told)
          : ''
      this.send(index, told === '' ? link.error : told + endOf(link.link))
      if (link.answersAskers && !knew) this.patchLink(index, { up: false })
      return
    }
    switch (meaning.kind) {
      case 'ask':
        return this.sendState(index)
      case 'hello':
        return void this.send(index, this.helloText(link))
      case 'started':
        return this.started(index)
      default:
        this.commands(
          index,
          link,
          meaning.kind === 'scene' ? meaning.sets : [meaning],
          !this.isNew(index, found),
        )
    }
  }

  /** What was understood; a counter that was taken is not taken again. */
  private meaning(index: number, found: Understood): Meaning | undefined {
    if (found.kind !== 'meant') return undefined
    if (found.window !== this.linkAt(index).window) this.patchLink(index, { window: found.window })
    return found.meaning
  }

  /** Whether a command is no repeat: its number was not seen lately. The number is remembered. */
  private isNew(index: number, found: Understood): boolean {
    const windowMs = this.program.links[index]?.link.numbered?.windowMs
    if (found.kind !== 'meant' || found.number === undefined || windowMs === undefined) return true
    const { seen } = this.linkAt(index)
    const again = seen.some(s => s.number === found.number)
    if (!again)
      this.patchLink(index, {
        seen: [
          ...seen.slice(-MOST_SEEN + 1),
          { number: found.number, until: clock32(this.state.now + windowMs) },
        ],
      })
    return !again
  }

  /**
   * The sender has just started: what it says first about each load is where it stands, not what it
   * wants.
   */
  private started(index: number): void {
    this.patchLink(index, { adopts: this.program.loads.map(() => true) })
  }

  private commands(
    index: number,
    link: ProgramLink,
    sets: readonly { load: number; value: string }[],
    again: boolean,
  ): void {
    for (const { load, value } of sets) {
      if (again) this.acknowledge(index, link, load)
      else this.command(index, link, load, this.meant(load, value))
    }
  }

  private helloText(link: ProgramLink): string {
    return helloText(link.link, this.program.fingerprint, this.state.starts)
  }

  private route(
    index: number,
    link: ProgramLink,
    route: string,
    request: number | undefined,
  ): void {
    const found = understood(link, this.linkAt(index).window, route)
    const meaning = this.meaning(index, found)
    const answers = speaksRoutes(link.link) ? link.link.answers : 'text'
    const reply = (text: string, status: Status, to: 'command' | 'ask' | 'refused') =>
      this.effects.push({ kind: 'reply', link: index, text, status, to, request })
    if (!meaning)
      return void (found.kind === 'refused'
        ? reply(
            found.why + (found.told === undefined ? '' : toldCounter(link.link, found.told)),
            403,
            'refused',
          )
        : reply('no such route', 404, 'refused'))
    switch (meaning.kind) {
      case 'ask':
        return void reply(this.stateText(index), 200, 'ask')
      case 'hello':
        return void reply(this.helloText(link), 200, 'command')
      case 'started':
        return
    }
    const sets = meaning.kind === 'scene' ? meaning.sets : [meaning]
    const again = !this.isNew(index, found)
    let refused = false
    if (!again)
      for (const { load, value } of sets)
        refused = this.command(index, link, load, this.meant(load, value)) || refused
    const told = sets.flatMap(({ load }) =>
      link.messages[load]?.ack ? [this.line(link, load)] : [],
    )
    const untold = refused ? TOO_SOON : doneAnswer(answers)
    reply(
      told.length ? answerOf(answers, told) : untold,
      refused ? 409 : 200,
      refused ? 'refused' : 'command',
    )
  }

  /**
   * A command sets the output; its link hears an acknowledgement when designed so, at most one
   * report in all. Returns whether it was refused.
   */
  private command(index: number, link: ProgramLink, load: number, value: string): boolean {
    if (this.linkAt(index).adopts[load] && adopts(this.outputOf(load))) {
      this.adopt(index, load, value)
      // Whoever asked for something else than is so has to hear it, however the link reports.
      if (this.unasked(index)) this.send(index, load)
      return false
    }
    const outcome = wanted(this.outputOf(load), this.outcomeOf(load), value, {
      now: this.state.now,
      holder: index,
      byHand: false,
    })
    if (outcome.refused) this.send(index, link.error)
    const told = this.become(load, outcome)
    if (!((told >> index) & 1)) this.acknowledge(index, link, load)
    return outcome.refused === true
  }

  private acknowledge(index: number, link: ProgramLink, load: number): void {
    if (link.messages[load]?.ack && (speaksBytes(link.link) || link.streams)) this.send(index, load)
  }

  private adopt(index: number, load: number, value: string): void {
    this.patchLink(index, { adopts: this.linkAt(index).adopts.with(load, false) })
    if (isFollower(this.outputOf(load))) this.become(load, adopted(this.outcomeOf(load), value))
  }

  /** The value that a code means: its own, or from the value there is. */
  private meant(load: number, asks: string): string {
    return asked(this.outputOf(load), this.state.value[load] as string, asks)
  }

  /** `holder` matters to held outputs only. */
  private set(load: number, value: string, holder: number, byHand: boolean): void {
    this.become(
      load,
      wanted(this.outputOf(load), this.outcomeOf(load), value, {
        now: this.state.now,
        holder,
        byHand,
      }),
    )
  }

  private outcomeOf(load: number): Outcome {
    return { value: this.state.value[load] as string, motion: this.state.motion[load] as Motion }
  }

  /**
   * Sets several loads, or one several times, as one thing: each line is written once, each value
   * reported once.
   */
  private together(act: () => void): void {
    this.before = []
    act()
    const { before } = this
    this.before = null
    const changed = before.flatMap((was, load) => (was ? [load] : []))
    for (const load of changed) this.drive(load, before[load] as Outcome, this.outcomeOf(load))
    const others = changed.filter(
      load => before[load]?.value !== this.state.value[load] || before[load]?.tripped,
    )
    for (const load of changed)
      if (lasting(before[load] as Outcome) !== lasting(this.outcomeOf(load))) this.keep(load)
    for (const load of others) this.reportChange(load, before[load]?.tripped === true)
  }

  /**
   * Takes over what an output came to: lines, then memory, then reports. Returns the links that
   * were told.
   */
  private become(load: number, next: Outcome): Told {
    const { state } = this
    const before = this.outcomeOf(load)
    if (next.motion !== before.motion) {
      state.motion[load] = next.motion
      this.dueStands = false
    }
    if (next.value !== before.value) {
      state.value[load] = next.value
      this.changed.push(load)
      this.states.length = 0
    }
    if (this.before) {
      this.before[load] ??= next.tripped ? { ...before, tripped: true } : before
      return 0
    }
    if (next.value !== before.value || next.motion !== before.motion) this.drive(load, before, next)
    if (lasting(next) !== lasting(before)) this.keep(load)
    if (next.value === before.value) return 0
    return this.reportChange(load, next.tripped === true)
  }

  /** Plans when the value is saved, where it is. */
  private keep(load: number): void {
    const output = this.outputOf(load)
    if (!('powerUp' in output) || output.powerUp !== 'last') return
    this.dueStands = false
    this.state.saveDue[load] = clock32(this.state.now + output.saveDelayMs)
    if (output.saveDelayMs === 0) this.save(load)
  }

  /**
   * What switched itself off is told on every link that carries it, also where changes are not
   * reported.
   */
  private reportChange(load: number, always: boolean): Told {
    const { links } = this.program
    let told: Told = 0
    for (let index = 0; index < links.length; index++) {
      const message = (links[index] as ProgramLink).messages[load]
      if (!message || !(message.change || always) || !this.unasked(index)) continue
      if (this.tellLoad(index, load)) told |= 1 << index
    }
    return told
  }

  /** Tells a value unasked, now or as soon as the link allows. */
  private tellLoad(index: number, load: number): boolean {
    const least = this.linkAt(index).least?.[load]
    if (least && least.freeAt !== null && !reached(this.state.now, least.freeAt)) {
      if (!least.owed) this.patchLeast(index, load, { ...least, owed: true })
      return false
    }
    return this.send(index, load)
  }

  private accept(index: number, level: Level, since: number): void {
    const { control, load } = this.program.inputs[index] as Program['inputs'][number]
    const { lockedUntil } = this.state.inputs[index] as InputState
    this.patchInput(index, { level, pending: null })
    const output = this.outputOf(load)
    const holder = this.program.links.length + index
    const current = this.state.value[load] as string
    if (control.kind === 'latching') {
      const rest = restOf(output)
      const where = level === 0 ? asked(output, rest, control.asks) : rest
      const want =
        control.acts === 'position' || isHeld(output)
          ? where
          : pressed(output, current, control.asks)
      return this.set(load, want, holder, true)
    }
    if (control.gestures.length) return this.gesture(index, control, level, since)
    if (isHeld(output) && level === 1) this.set(load, 'off', holder, true)
    if (level === 1 || (lockedUntil !== null && !reached(since, lockedUntil))) return
    this.patchInput(index, {
      lockedUntil: control.lockoutMs ? clock32(since + control.lockoutMs) : null,
    })
    this.set(load, pressed(output, current, control.asks), holder, true)
  }

  /**
   * A debounced edge of a button that knows several gestures. Presses within a run are not locked
   * out.
   */
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
    if (!run) return
    const done = settled(run, pending?.level ?? null, this.state.now)
    if (done) this.complete(index, done)
  }

  private complete(index: number, done: Gesture): void {
    const { control, targets } = this.program.inputs[index] as Program['inputs'][number]
    const { run } = this.state.inputs[index] as InputState
    const until =
      control.kind === 'push' && control.lockoutMs && run
        ? clock32(run.last + control.lockoutMs)
        : null
    this.patchInput(index, {
      run: null,
      lockedUntil: until !== null && reached(this.state.now, until) ? null : until,
    })
    const target = targets[done]
    if (target)
      this.set(
        target.load,
        pressed(this.outputOf(target.load), this.state.value[target.load] as string, target.asks),
        this.program.links.length + index,
        true,
      )
  }

  /** Begins to write a value, or leaves it for later while another write is under way. */
  private save(load: number): void {
    const { state } = this
    const value = lasting(this.outcomeOf(load))
    state.saveDue[load] = null
    if (state.writing && !this.writes) {
      state.saveOwed[load] = true
      return
    }
    if ((state.writing ?? state.memory)[load] === value) return
    this.writes = true
    state.writing = (state.writing ?? state.memory).with(load, value)
    this.effects.push({ kind: 'save', load, value })
  }

  private memoryDone(): void {
    const { state } = this
    if (state.writing) state.memory = state.writing.slice()
    state.writing = null
    state.saveOwed.forEach((owed, load) => {
      if (!owed) return
      state.saveOwed[load] = false
      this.save(load)
    })
  }

  private outputOf(load: number): Output {
    return (this.program.loads[load] as Program['loads'][number]).output
  }

  /** Writes the lines that differ; all of them where nothing was driven before. */
  private drive(load: number, before: Outcome | null, next: Outcome): void {
    const output = this.outputOf(load)
    const were = before && lineLevels(output, before)
    const are = lineLevels(output, next)
    // Lines that fall are written before lines that rise, so that opposed ones are never on
    // together.
    for (let rising = 0; rising < 2; rising++) {
      for (let line = 0; line < are.length; line++) {
        const energised = are[line] as number
        if (were?.[line] !== energised && Number(energised > (were?.[line] ?? 0)) === rising)
          this.effects.push({ kind: 'pin', load, line, level: electrical(output, line, energised) })
      }
    }
  }

  /** Whether the board can speak on a link without being asked. */
  private unasked(index: number): boolean {
    const link = this.program.links[index] as ProgramLink
    return speaksBytes(link.link) || link.streams
  }

  /**
   * Hands a text, a report or a reading to the link, or lets it wait there. Returns whether it was
   * taken.
   */
  private send(index: number, what: Waiting): boolean {
    const { up, busy } = this.linkAt(index)
    if (!up || what === '') return false
    if (typeof what === 'number' && this.textFor(index, what) === '') return false
    return busy ? this.wait(index, what) : this.emit(index, what)
  }

  private emit(index: number, what: Waiting): boolean {
    const { link } = this.program.links[index] as ProgramLink
    this.effects.push({ kind: 'send', link: index, text: this.textFor(index, what) })
    if (isReport(what) && what >= 0 && link.leastMs)
      this.patchLeast(index, what, { freeAt: clock32(this.state.now + link.leastMs), owed: false })
    if (link.queue && !this.linkAt(index).busy) this.patchLink(index, { busy: true })
    return true
  }

  private textFor(index: number, what: Waiting): string {
    if (typeof what === 'string') return what
    if (what === WHOLE_STATE) return this.stateText(index)
    if (what >= 0) return this.report(this.program.links[index] as ProgramLink, what)
    const { reading } = this.program.readings[-1 - what] as Program['readings'][number]
    return readingWire(
      (this.program.links[index] as ProgramLink).link,
      reading,
      this.readingNow(-1 - what),
    )
  }

  /**
   * A report of what waits already keeps its place; where all places are taken the oldest report
   * gives way. Answers are never given up.
   */
  private wait(index: number, what: Waiting): boolean {
    const { queue, dropped } = this.linkAt(index)
    if (typeof what === 'number' && queue.includes(what)) return true
    const most = (this.program.links[index] as ProgramLink).link.queue
    const oldest =
      isReport(what) && queue.filter(isReport).length >= most ? queue.findIndex(isReport) : -1
    this.patchLink(index, {
      queue: [...(oldest < 0 ? queue : queue.filter((_, i) => i !== oldest)), what],
      dropped: dropped + Number(oldest >= 0),
    })
    return true
  }

  private sendState(index: number): void {
    const { leastMs } = (this.program.links[index] as ProgramLink).link
    if (this.send(index, WHOLE_STATE) && leastMs)
      this.patchLink(index, {
        least: this.program.loads.map(() => ({
          freeAt: clock32(this.state.now + leastMs),
          owed: false,
        })),
      })
  }

  private stateText(index: number): string {
    return (this.states[index] ??= this.wholeState(index))
  }

  private wholeState(index: number): string {
    const link = this.program.links[index] as ProgramLink
    if (speaksRoutes(link.link))
      return answerOf(link.link.answers, [
        ...link.carried.map(load => this.line(link, load)),
        ...this.readingsOn(index, readingBody),
      ])
    let text = ''
    for (const load of link.carried) text += this.report(link, load)
    return this.program.readings.length ? text + this.readingsOn(index, readingWire).join('') : text
  }

  /** "fan=1" of a load. */
  private line(link: ProgramLink, load: number): string {
    return link.messages[load]?.lines.get(this.state.value[load] as string) ?? ''
  }

  private report(link: ProgramLink, load: number): string {
    return link.messages[load]?.reports.get(this.state.value[load] as string) ?? ''
  }

  private patchInput(index: number, patch: Partial<InputState>): void {
    const { level, pending, lockedUntil, run } = this.state.inputs[index] as InputState
    this.state.inputs[index] = {
      level: patch.level ?? level,
      pending: patch.pending === undefined ? pending : patch.pending,
      lockedUntil: patch.lockedUntil === undefined ? lockedUntil : patch.lockedUntil,
      run: patch.run === undefined ? run : patch.run,
    }
  }

  private forget(): void {
    this.states.length = 0
    this.texts.length = 0
  }
}

/** Numbers of commands that are remembered at once. */
const MOST_SEEN = 32

/** What a least time, or an end contact, does not allow now. */
const TOO_SOON = 'not allowed now'

/** A value that is told; an answer or the whole state is none. */
function isReport(what: Waiting): what is number {
  return typeof what === 'number' && what !== WHOLE_STATE
}

/** A press for a direction that runs already stops it. */
function pressed(output: Output, current: string, asks: string): string {
  const want = asked(output, current, asks)
  return isOpposed(output) && want === current ? restOf(output) : want
}

/** Memory that an older program wrote may hold what is no value any more. */
function savedValue(output: Output, saved: string): string {
  return isValue(output, saved) ? saved : restOf(output)
}

/**
 * From energised to what stands on the pin. Stepper lines have fixed senses: step and direction
 * high, enable low.
 */
function electrical(output: Output, line: number, energised: number): number {
  if (isStepper(output)) return line === 2 ? Number(!energised) : energised
  if (output.activeLevel === 'high') return energised
  return isLevel(output) ? 255 - energised : Number(!energised)
}
