/**
 * A path of the search told in the maker's words and laid out in real time for the bench. Every message of the story
 * gets a fate (its arrival, or lost with its link), so that what crossed in the search crosses on the bench too.
 */
import { runScript } from '../bench/bench'
import type { BenchScript } from '../bench/script'
import { loadOf, sensesPanel, surfaceOf } from '../design/find'
import type { Design, Gesture, Load, Output, RemoteSurface } from '../design/schema'
import { valueWords } from '../design/values'
import { shownWire } from '../design/wire'
import { finger } from '../bench/fingers'
import { armedSlots } from './machines'
import { gestureOf } from './project'
import type { System, SystemEvent } from './system'

export interface StoryStep { words: string, kind: SystemEvent['kind'], surfaceId: string | null }
export interface Story {
  surfaceId: string
  steps: StoryStep[]
  /** How it ends: "Apron phone shows on, Booth extractor is off". */
  ending: string
  script: BenchScript
  /** The bench came to the same end. */
  replayed: boolean
}

const START_MS = 1000
/** Between two things a person does; long enough to be seen apart on the bench. */
const HUMAN_GAP_MS = 400
const SETTLE_MS = 2500

export function tellStory(design: Design, system: System, path: readonly SystemEvent[], surfaceId: string): Story {
  const teller = new Teller(design, system)
  for (const event of path) teller.tell(event)
  const script: BenchScript = { seed: 1, steps: teller.script, fates: teller.fates, untilMs: teller.t + SETTLE_MS }
  const panel = system.panelIds.indexOf(surfaceId)
  const shown = system.panels[panel]?.shown(system.panelOf(teller.s, panel), 0) ?? 'unknown'
  const truth = system.value(teller.s)
  const { name, output } = loadOf(design, system.loadId)
  const bench = runScript(design, script)
  const steps = teller.steps.filter((step, i) => step.kind !== 'save' || teller.steps.slice(i).some(later => later.kind === 'cut'))
  const benchShown = bench.shown(surfaceId, system.loadId)
  return {
    surfaceId, steps, script,
    ending: `${surfaceOf(design, surfaceId).name} shows ${shownWords(output, shown)}, ${name} is ${valueWords(output, truth)}`,
    replayed: benchShown === shown && bench.value(system.loadId) === truth,
  }
}

export function shownWords(output: Output, shown: string): string {
  if (shown === 'unknown') return 'nothing certain'
  if (shown === 'waiting') return shown
  return shown.startsWith('stale-') ? `${valueWords(output, shown.slice(6))}, marked stale` : valueWords(output, shown)
}

/** Events after which it is told what the load did. */
const TELLS_MOVES: readonly SystemEvent['kind'][] = ['deliverUp', 'overtakeUp', 'press', 'other', 'timer', 'hold', 'letGo']

/** How a key is called: "key", "On", "Reverse", "more". */
function keyWords(want: string): string {
  const words: Record<string, string> = { flip: 'key', up: 'more', down: 'less' }
  return words[want] ?? want.charAt(0).toUpperCase() + want.slice(1)
}

function timerMs(output: Output, slot: number): number {
  switch (output.kind) {
    case 'pulsed': return output.lengthMs
    case 'held': return output.timeoutMs
    case 'opposed': return slot === 0 ? output.deadTimeMs : output.runLimitMs
    case 'switched': return [output.timers?.onDelayMs, output.timers?.offDelayMs, output.timers?.blinkMs, Math.max(output.limits?.minOnMs ?? 0, output.limits?.minOffMs ?? 0), output.limits?.longestOnMs][slot] ?? 0
    default: return 0
  }
}

function timerWords({ name, output }: Load, slot: number): string {
  switch (output.kind) {
    case 'pulsed': return `the pulse of ${name} ends`
    case 'held': return `no keep-alive came for ${name} in time`
    case 'switched': return [`the delay of ${name} is over`, `the time of ${name} is over`, `${name} blinks`, `the least time of ${name} is over`, `the longest time of ${name} is over`][slot] ?? ''
    default: return slot === 0 ? `the dead time of ${name} is over` : `the longest run of ${name} is over`
  }
}

const PRESSES: Record<Gesture, string> = { single: 'presses', double: 'presses twice', triple: 'presses three times', hold: 'holds down' }

class Teller {
  readonly s: Int32Array
  /** All steps; saving is told only where a later power cut makes it matter. */
  readonly steps: StoryStep[] = []
  readonly script: BenchScript['steps'] = []
  readonly fates: NonNullable<BenchScript['fates']> = {}
  t = START_MS
  private readonly sent: [number, number][]
  private readonly inFlight: { up: number[], down: number[] }[]
  private readonly away = new Set<number>()
  private readonly droppedAt: number[] = []
  private readonly timeoutAt: number[] = []
  private lastPress = -Infinity
  private changedAt = 0
  private readonly armedAt: number[] = []
  private bootedAt = -Infinity

  constructor(private readonly design: Design, private readonly system: System) {
    this.s = system.initial()
    this.sent = system.panels.map((_, p) => this.sendsOnConnect(p))
    this.inFlight = system.panels.map(() => ({ up: [], down: [] }))
  }

  tell(event: SystemEvent): void {
    const was = this.system.value(this.s)
    const wereArmed = this.armed()
    const before = this.system.panels.map((_, p) => ({ up: this.system.queueOf(this.s, p, 'up'), down: this.system.queueOf(this.s, p, 'down') }))
    const step: StoryStep = { kind: event.kind, words: this.words(event), surfaceId: 'panel' in event ? this.system.panelIds[event.panel] ?? null : this.handOf(event) }
    this.schedule(event)
    this.system.fire(this.s, event)
    this.follow(event, before)
    const is = this.system.value(this.s)
    const moved = is === was ? '' : `: ${this.loadName()} goes ${valueWords(loadOf(this.design, this.system.loadId).output, is)}`
    if (moved) this.changedAt = this.t
    for (const slot of this.armed()) if (!wereArmed.includes(slot) || event.kind !== 'timer') this.armedAt[slot] = this.t
    if (TELLS_MOVES.includes(event.kind)) step.words += moved
    this.steps.push(step)
  }

  /** Put the event on the time line; `this.t` becomes the moment at which it takes effect. */
  private schedule(event: SystemEvent): void {
    const { design } = this
    const act = (action: BenchScript['steps'][number]['action']) => this.script.push({ atMs: this.t, action })
    const anythingMoving = this.inFlight.some(q => q.up.length || q.down.length)
    this.t += Math.min(anythingMoving ? 30 : HUMAN_GAP_MS, this.beforeSaving())
    switch (event.kind) {
      case 'press': {
        const control = this.control(event.input)
        const { gesture } = this.gesture(event.input)
        const { moves, actsAfterMs } = finger(control, gesture)
        const wait = control.kind === 'push' ? control.lockoutMs + 200 : 0
        this.t = Math.max(this.t, this.lastPress + wait + control.debounceMs)
        this.lastPress = this.t + Math.max(actsAfterMs, (moves.at(-1)?.afterMs ?? 0) - 150)
        act({ do: 'press', controlId: control.id, ...(gesture === 'single' ? {} : { gesture }) })
        this.t += actsAfterMs
        return
      }
      case 'key': {
        const panel = this.panel(event.panel)
        act({ do: 'key', surfaceId: panel.id, loadId: this.system.design.loads[event.load]?.id ?? '', want: event.want })
        this.timeoutAt[event.panel] = this.t + panel.belief.timeoutMs
        return
      }
      case 'other': {
        const link = this.system.design.links[event.link]
        const panel = this.design.surfaces.find((x): x is RemoteSurface => x.kind !== 'hand' && x.linkId === link?.id)
        if (!panel || !link) return
        this.t = Math.max(this.t, this.bootedAt + link.timing.reconnectMs + 50)
        act({ do: 'key', surfaceId: panel.id, loadId: this.system.design.loads[event.load]?.id ?? '', want: event.want })
        this.t += Math.ceil(link.timing.p99Ms * 1.5) + 50
        return
      }
      case 'drop':
        act({ do: 'linkDown', linkId: this.panel(event.panel).linkId })
        this.away.add(event.panel)
        this.droppedAt[event.panel] = this.t
        return
      case 'return': {
        const { reconnectMs } = this.timing(event.panel)
        if (this.away.delete(event.panel)) {
          act({ do: 'linkUp', linkId: this.panel(event.panel).linkId })
          this.t += reconnectMs
        }
        else this.t = Math.max(this.t, (this.droppedAt[event.panel] ?? 0) + reconnectMs)
        return
      }
      case 'notice':
        this.t = Math.max(this.t, (this.droppedAt[event.panel] ?? 0) + this.timing(event.panel).dropDetectMs + 1)
        return
      case 'timeout':
        this.t = Math.max(this.t, this.timeoutAt[event.panel] ?? 0)
        this.timeoutAt[event.panel] = this.t + this.panel(event.panel).belief.timeoutMs
        return
      case 'save':
        this.t = Math.max(this.t, this.changedAt + this.saveDelayMs() + 1)
        return
      case 'timer': {
        const { output } = loadOf(design, this.system.design.loads[event.load]?.id ?? '')
        this.t = Math.max(this.t, (this.armedAt[event.slot] ?? 0) + timerMs(output, event.slot))
        return
      }
      case 'hold':
        act({ do: 'hold', controlId: this.control(event.input).id })
        this.t += this.control(event.input).debounceMs
        return
      case 'letGo':
        act({ do: 'letGo', controlId: this.control(event.input).id })
        this.t += this.control(event.input).debounceMs
        return
      case 'cut':
        act({ do: 'powerOff' })
        this.system.panels.forEach((_, p) => { this.droppedAt[p] = this.t })
        return
      case 'powerOn': {
        act({ do: 'powerOn' })
        this.t += design.controllers[0]?.bootMs ?? 0
        this.bootedAt = this.t
        // Links come back by themselves; the search names each return, the bench times it from here.
        this.system.panels.forEach((_, p) => { this.droppedAt[p] = this.t })
      }
    }
  }

  /**
   * A value that is not saved yet in the story must not be saved by the bench before the story goes on: things are done
   * faster then, an eighth of the save delay apart.
   */
  private beforeSaving(): number {
    const { controller } = this.system
    const pending = controller.state(this.system.controllerOf(this.s)).saveDue.some(due => due !== null)
    return pending ? Math.max(1, Math.floor(this.saveDelayMs() / 8)) : Infinity
  }

  /** Follow each message from sender to its end, and give it its fate. */
  private follow(event: SystemEvent, before: { up: number[], down: number[] }[]): void {
    this.system.panels.forEach((_, p) => {
      for (const dir of ['up', 'down'] as const) {
        const flight = (this.inFlight[p] as { up: number[], down: number[] })[dir]
        const had = before[p]?.[dir].length ?? 0
        const has = this.system.queueOf(this.s, p, dir).length
        const overtook = 'panel' in event && event.panel === p && event.kind === (dir === 'up' ? 'overtakeUp' : 'overtakeDown')
        const delivered = overtook || ('panel' in event && event.panel === p && event.kind === (dir === 'up' ? 'deliverUp' : 'deliverDown'))
        const lost = 'panel' in event && event.panel === p && event.kind === (dir === 'up' ? 'loseUp' : 'loseDown')
        const fell = (event.kind === 'drop' && event.panel === p) || event.kind === 'cut'
        if (delivered || lost) this.fate(p, dir, overtook ? flight.splice(1, 1)[0] : flight.shift(), delivered ? this.t : 'lost')
        if (fell) for (const n of flight.splice(0)) this.fate(p, dir, n, this.t + 1)
        const sent = has - (fell ? 0 : had - (delivered || lost ? 1 : 0))
        for (let i = 0; i < sent; i++) flight.push((this.sent[p] as [number, number])[dir === 'up' ? 0 : 1]++)
      }
    })
  }

  /** Links whose panel asks by itself are left to their own latency: their messages cannot be counted beforehand. */
  private fate(p: number, dir: 'up' | 'down', n: number | undefined, fate: number | 'lost'): void {
    const panel = this.panel(p)
    if (n !== undefined && panel.pollMs === 0) this.fates[`${panel.linkId} ${dir} ${n}`] = fate
  }

  private sendsOnConnect(p: number): [number, number] {
    const link = this.system.design.links.find(l => l.id === this.panel(p).linkId)
    return [0, link?.onConnect && sensesPanel(link) ? 1 : 0]
  }

  private words(event: SystemEvent): string {
    const text = (p: number, dir: 'up' | 'down', place = 0) => {
      const link = this.design.links.find(l => l.id === this.panel(p).linkId)
      const crossing = this.system.messages.texts[this.system.queueOf(this.s, p, dir)[place] ?? 0]?.text ?? ''
      return link ? shownWire(link, crossing) : crossing
    }
    switch (event.kind) {
      case 'deliverUp': return `"${text(event.panel, 'up')}" arrives at the board`
      case 'deliverDown': return `"${text(event.panel, 'down')}" arrives at ${this.panel(event.panel).name}`
      case 'overtakeUp': return `"${text(event.panel, 'up', 1)}" overtakes "${text(event.panel, 'up')}" and arrives at the board`
      case 'overtakeDown': return `"${text(event.panel, 'down', 1)}" overtakes "${text(event.panel, 'down')}" and arrives at ${this.panel(event.panel).name}`
      case 'loseUp': return `"${text(event.panel, 'up')}" is lost on its way to the board`
      case 'loseDown': return `"${text(event.panel, 'down')}" is lost on its way to ${this.panel(event.panel).name}`
      case 'press': return this.control(event.input).kind === 'push' ? `Somebody ${PRESSES[this.gesture(event.input).gesture]} the button of ${this.inputLoad(event.input)}` : `Somebody flips the switch of ${this.inputLoad(event.input)}`
      case 'key': return `${this.panel(event.panel).name}: ${keyWords(event.want)} of ${this.system.design.loads[event.load]?.name ?? ''}`
      case 'other': return `${this.otherName(event.link)}: ${event.want} for ${this.system.design.loads[event.load]?.name ?? ''}`
      case 'drop': return `${this.panel(event.panel).name} goes out of reach`
      case 'return': return `${this.panel(event.panel).name} connects again`
      case 'notice': return `${this.panel(event.panel).name} notices that the link is gone`
      case 'timeout': return `${this.panel(event.panel).name} has waited ${this.panel(event.panel).belief.timeoutMs} ms for an answer`
      case 'poll': return `${this.panel(event.panel).name} asks for the state`
      case 'save': return 'the board saves the value'
      case 'timer': return timerWords(this.system.design.loads[event.load] as Load, event.slot)
      case 'repeat': return `${this.panel(event.panel).name} keeps the hold alive`
      case 'hold': return `Somebody presses the button of ${this.inputLoad(event.input)} and stays on it`
      case 'letGo': return `The button of ${this.inputLoad(event.input)} is let go`
      case 'cut': return 'the power is cut'
      case 'powerOn': return 'the power returns and the board starts'
    }
  }

  private armed(): number[] { return armedSlots(this.system.controller.state(this.system.controllerOf(this.s)).motion[0] ?? null) }
  private saveDelayMs(): number {
    const { output } = loadOf(this.design, this.system.loadId)
    return 'saveDelayMs' in output ? output.saveDelayMs : 0
  }

  private handOf(event: SystemEvent): string | null {
    if (!('input' in event)) return null
    const { id } = this.control(event.input)
    return this.design.surfaces.find(s => s.kind === 'hand' && s.controls.some(c => c.id === id))?.id ?? null
  }

  /** The control with its real times, not those of the projection. */
  private control(input: number) {
    const id = this.gesture(input).controlId
    const control = this.design.surfaces.flatMap(s => s.kind === 'hand' ? s.controls : []).find(c => c.id === id)
    if (!control) throw new RangeError(`no control for input ${input}`)
    return control
  }

  private gesture(input: number) { return gestureOf(this.system.controller.program.inputs[input]?.control.id ?? '') }
  private panel(p: number): RemoteSurface { return surfaceOf(this.design, this.system.panelIds[p] ?? '') as RemoteSurface }
  private timing(p: number) { return this.design.links.find(l => l.id === this.panel(p).linkId)?.timing ?? { reconnectMs: 0, dropDetectMs: 0 } }
  private loadName(): string { return loadOf(this.design, this.system.loadId).name }
  private otherName(link: number): string {
    return this.design.surfaces.find(s => s.kind !== 'hand' && s.linkId === this.system.design.links[link]?.id)?.name ?? 'another panel'
  }

  private inputLoad(input: number): string { return loadOf(this.design, this.control(input).loadId).name }
}
