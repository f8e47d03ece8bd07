/**
 * The promises of one load, each with its verdict. Searches are exhaustive within their bounds; a break comes with the shortest
 * story, replayed on the bench. Runs in slices, so that a worker can report, and stop with what is known by then.
 */
import { handSurfaces, linkOf, loadOf, showsState } from '../design/find'
import { partOfLoad } from '../design/part'
import { boardOf } from '../design/pins'
import { pinOf } from '../boards/boards'
import type { Design, Load, RemoteSurface } from '../design/schema'
import { linesOf } from '../design/values'
import { runScript } from '../bench/bench'
import type { BenchScript } from '../bench/script'
import { THOROUGH, type Bounds } from './bounds'
import { Exploration, type What } from './explore'
import { TooLarge } from './machines'
import { timerMs } from './output-times'
import { deadOutages } from './outages'
import { gestureOf, worstWayMs } from './project'
import { notAsked, PROMISE_IDS, type PromiseId } from './promises'
import { canBeOverheard, commanding, replaySearch } from './replay'
import { Searched, shapeOf, type Outcome } from './same'
import { tellStory, type Story } from './story'
import { System, type Question, type SystemEvent } from './system'

/**
 * Of a surface, for P1: in step: never wrong nor unsure at rest. unsure: can stay unknown or marked stale. stale: can show the
 * opposite for good. Of any other part of a promise: holds or broken. in time: only delays beyond the stated ones break it.
 */
export type SurfaceState = 'in step' | 'unsure' | 'stale' | 'not examined' | 'holds' | 'broken' | 'in time'
/** A part of a verdict: a surface, a hand control, an outage, or the load itself (surfaceId null). `subject`: what it is about, in words. */
export interface SurfaceVerdict { surfaceId: string | null, subject: string, state: SurfaceState, reason: string, story: Story | null }
export interface Verdict {
  promise: PromiseId
  loadId: string
  /** by timing: broken only with delays outside the stated ones. */
  result: 'holds' | 'broken' | 'by timing' | 'gave up' | 'not asked'
  reason: string
  surfaces: SurfaceVerdict[]
  situations: number
  transitions: number
  bounds: Bounds
  /** Paths cut short because more messages were under way than the bound allows. */
  cutShort: number
}

/** A search with what is made of it; several promises may share one. */
interface Part {
  promises: readonly PromiseId[]
  /** True when done. */
  run(slice: number): boolean
  situations: number
  transitions: number
  cutShort: number
  verdicts(promise: PromiseId): SurfaceVerdict[]
}

/** `searched` is shared by the loads of a design, so that what is the same is searched once. `only`: one surface of those that speak. */
export interface ProofOptions { promises?: readonly PromiseId[], searched?: Searched, neighbours?: Map<string, string[]>, only?: string }

export class Proof {
  private readonly parts: Part[]
  private at = 0
  private readonly load: Load

  private readonly promises: readonly PromiseId[]

  constructor(whole: Design, readonly loadId: string, private readonly bounds: Bounds = THOROUGH, { promises = ['P1'], searched = new Searched(), neighbours, only }: ProofOptions = {}) {
    this.promises = promises
    const design = partOfLoad(whole, loadId)
    const load = this.load = loadOf(design, loadId)
    const asked = (p: PromiseId) => promises.includes(p) && notAsked(load, p) === ''
    const context: Context = { design, load, searched, bounds, ...(neighbours ? { neighbours } : {}) }
    const speaking = commanding(design, loadId).filter(s => only === undefined || s.id === only)
    const parts: Part[] = []
    if (asked('P1')) parts.push(...speaking.filter(showsState).map(s => new SearchPart(context, ['P1'], s, 'truth')))
    if (asked('P2')) parts.push(...speaking.map(s => new SearchPart({ ...context, bounds: narrowed(bounds) }, ['P2'], s, 'twice')))
    const board = (['P3', 'P4', 'P5', 'P6'] as const).filter(asked)
    if (board.length) parts.push(new SearchPart({ ...context, bounds: { ...bounds, presses: Math.min(15, bounds.presses + bounds.commands), commands: 0 } }, board, null, 'board'))
    if (asked('P4')) parts.push(new BootPart(design, load))
    if (asked('P7')) parts.push(...speaking.map(s => new SearchPart({ ...context, bounds: { ...narrowed(bounds), restarts: Math.max(1, bounds.restarts) } }, ['P7'], s, 'restart')))
    if (asked('P8')) parts.push(...speaking.map(s => new StrangerPart(design, load, s, bounds.commands)))
    if (asked('P9')) parts.push(new OutagePart(design, load))
    this.parts = parts
  }

  get situations(): number { return this.parts.reduce((sum, p) => sum + p.situations, 0) }

  /** True when done. */
  run(slice: number): boolean {
    const part = this.parts[this.at]
    if (!part) return true
    if (part.run(slice)) this.at++
    return this.at >= this.parts.length
  }

  /** Of what is done by now; a part that is not is not examined. */
  verdicts(): Verdict[] { return this.promises.map(p => this.verdictOf(p)) }

  verdict(): Verdict { return this.verdictOf(this.promises[0] as PromiseId) }

  private verdictOf(promise: PromiseId): Verdict {
    const parts = this.parts.filter(p => p.promises.includes(promise))
    const surfaces = parts.flatMap(p => this.at > this.parts.indexOf(p) ? p.verdicts(promise) : [{ surfaceId: null, subject: this.load.name, state: 'not examined' as const, reason: 'stopped before it was searched', story: null }])
    const why = notAsked(this.load, promise)
    return {
      promise, loadId: this.loadId, bounds: this.bounds, surfaces, ...why ? { result: 'not asked' as const, reason: why } : summary(promise, surfaces),
      situations: parts.reduce((sum, s) => sum + s.situations, 0), transitions: parts.reduce((sum, s) => sum + s.transitions, 0), cutShort: parts.reduce((sum, s) => sum + s.cutShort, 0),
    }
  }
}

function summary(promise: PromiseId, surfaces: readonly SurfaceVerdict[]): Pick<Verdict, 'result' | 'reason'> {
  const of = (...states: SurfaceState[]) => [...new Set(surfaces.filter(s => states.includes(s.state)).map(s => s.reason))].join('; ')
  if (surfaces.length === 0) return { result: 'not asked', reason: promise === 'P1' ? 'No panel shows this load.' : promise === 'P3' ? 'No hand control moves it.' : 'Nothing commands it over a link.' }
  const broken = of('stale', 'unsure', 'broken')
  if (broken) return { result: 'broken', reason: broken }
  const open = of('not examined')
  if (open) return { result: 'gave up', reason: open }
  const timed = of('in time')
  if (timed) return { result: 'by timing', reason: timed }
  return { result: 'holds', reason: promise === 'P1' ? 'At rest every panel shows the truth' : [...new Set(surfaces.map(s => s.reason))].join('; ') }
}

/** For what one command or one start can do, few others have to be pressed. */
function narrowed(bounds: Bounds): Bounds {
  return { ...bounds, presses: Math.min(bounds.presses, 2), commands: Math.min(bounds.commands, 2), drops: Math.min(bounds.drops, 1), powerCuts: Math.min(bounds.powerCuts, 1) }
}

interface Context { design: Design, load: Load, searched: Searched, bounds: Bounds, neighbours?: Map<string, string[]> }

/** Finds that break a promise, by promise. */
const BREAKS: Partial<Record<PromiseId, readonly What[]>> = {
  P1: ['wrong', 'unsure', 'restless'], P2: ['twice', 'vanished'], P3: ['dead'], P4: ['astray'], P5: ['clashed'], P6: ['stuck'], P7: ['moved', 'jumped'],
}
/** What ends a search at once. */
const UNTIL: Record<Question, readonly What[]> = { truth: ['wrong'], twice: ['twice'], restart: ['moved'], board: [] }

class SearchPart implements Part {
  situations = 0
  transitions = 0
  cutShort = 0
  private phase: 'free' | 'told' | 'in time' | 'done' = 'free'
  private readonly system: System | TooLarge
  private search: Exploration | null = null
  private free: Outcome | null = null
  private inTime: { system: System, search: Exploration | null, outcome: Outcome | null } | null = null
  private stories: { what: What, event: number, story: Story }[] = []
  private tooLarge: TooLarge | null = null

  constructor(private readonly context: Context, readonly promises: readonly PromiseId[], private readonly surface: RemoteSurface | null, private readonly question: Question) {
    this.system = this.open(false)
    if (this.system instanceof TooLarge) this.tooLarge = this.system
  }

  run(slice: number): boolean {
    try { return this.goOn(slice) }
    catch (error) {
      if (!(error instanceof TooLarge)) throw error
      this.tooLarge = error
      this.search = null
      this.phase = 'done'
      return true
    }
  }

  private goOn(slice: number): boolean {
    const { system } = this
    if (this.tooLarge || system instanceof TooLarge || this.phase === 'done') return true
    if (this.phase === 'free') {
      this.free = this.advance(system, slice, this.keyOf(system, false), () => this.search, (s) => { this.search = s })
      if (!this.free) return false
      this.search = null
      this.tell(system, this.free)
      this.phase = 'told'
    }
    // A story that the bench does not come to may need delays beyond the stated ones: searched again within them.
    if (this.phase === 'told') {
      if (this.stories.every(s => s.story.replayed)) {
        this.phase = 'done'
        return true
      }
      const within = this.open(true)
      if (within instanceof TooLarge) throw within
      this.inTime = { system: within, search: null, outcome: null }
      this.phase = 'in time'
    }
    const inTime = this.inTime as NonNullable<typeof this.inTime>
    inTime.outcome = this.advance(inTime.system, slice, this.keyOf(inTime.system, true), () => inTime.search, (s) => { inTime.search = s })
    if (!inTime.outcome) return false
    inTime.search = null
    const before = this.stories
    this.stories = before.filter(s => s.story.replayed)
    this.tell(inTime.system, inTime.outcome, before.filter(s => s.story.replayed).map(s => s.what))
    this.phase = 'done'
    return true
  }

  /** The outcome of a search, or null while it goes on. */
  private advance(system: System, slice: number, key: string, get: () => Exploration | null, set: (s: Exploration) => void): Outcome | null {
    const { searched } = this.context
    const known = searched.get(key)
    if (known) return this.counted(known)
    let search = get()
    if (!search) set(search = new Exploration(system, UNTIL[this.question]))
    this.situations = search.count
    if (!search.run(slice)) return null
    if (this.question === 'truth') search.settle()
    const { finds, count, transitions, exhausted } = search
    const outcome = { finds: finds.map(f => ({ what: f.what, event: f.event, path: (search as Exploration).path(f) })), situations: count, transitions, exhausted, cutShort: system.overflows }
    searched.set(key, outcome)
    return this.counted(outcome)
  }

  private counted(outcome: Outcome): Outcome {
    this.situations = (this.free?.situations ?? 0) + outcome.situations
    this.transitions += outcome.transitions
    this.cutShort += outcome.cutShort
    return outcome
  }

  private tell(system: System, outcome: Outcome, but: readonly What[] = []): void {
    const { design } = this.context
    const breaks = this.promises.flatMap(p => BREAKS[p] ?? [])
    const wrong = outcome.finds.some(f => f.what === 'wrong')
    for (const { what, path, event } of outcome.finds) {
      // Where a panel can be wrong for good, that it can be unsure is no news.
      if (!breaks.includes(what) || but.includes(what) || (what === 'unsure' && wrong)) continue
      this.stories.push({ what, event, story: tellStory(design, system, path, this.surface?.id ?? null, what) })
    }
  }

  private open(inTime: boolean): System | TooLarge {
    const { design, load, bounds, neighbours } = this.context
    try { return new System(design, load.id, this.surface?.id ?? null, bounds, { question: this.question, inTime, ...(neighbours ? { neighbours } : {}) }) }
    catch (error) {
      if (error instanceof TooLarge) return error
      throw error
    }
  }

  private keyOf(system: System, inTime: boolean): string {
    const { output } = this.context.load
    return shapeOf(system.design, this.surface?.id ?? null, this.context.bounds, { question: this.question, inTime }, inTime ? [0, 1, 2, 3, 4].map(slot => timerMs(output, slot)) : null)
  }

  verdicts(promise: PromiseId): SurfaceVerdict[] {
    const { load } = this.context
    const subject = this.surface?.name ?? load.name
    const surfaceId = this.surface?.id ?? null
    if (this.tooLarge) return [{ surfaceId, subject, state: 'not examined', reason: this.tooLarge.message, story: null }]
    const own = this.stories.filter(s => BREAKS[promise]?.includes(s.what))
    const exhausted = (this.inTime?.outcome ?? this.free)?.exhausted ?? false
    const outOfReach = `${subject}: no break in ${this.situations} situations, then the bound ended the search`
    switch (promise) {
      case 'P1': return [this.truth(own, exhausted, outOfReach)]
      case 'P3': return this.hands(own, exhausted ? outOfReach : '')
      default: {
        const first = own.find(s => s.story.replayed)
        if (!first && own[0]) return [{ surfaceId, subject, state: 'not examined', reason: UNREPLAYED, story: own[0].story }]
        if (first) return [{ surfaceId, subject, state: 'broken', reason: first.story.ending, story: first.story }]
        if (exhausted) return [{ surfaceId, subject, state: 'not examined', reason: outOfReach, story: null }]
        const timed = this.byTiming()
        return [{ surfaceId, subject, state: timed ? 'in time' : 'holds', reason: timed || HOLDS[promise](subject, load), story: null }]
      }
    }
  }

  private truth(own: typeof this.stories, exhausted: boolean, outOfReach: string): SurfaceVerdict {
    const { surface } = this
    const { name = '', id = '' } = surface ?? {}
    const story = (what: What) => own.find(s => s.what === what)?.story
    const common = { surfaceId: id, subject: name }
    const [wrong, unsure, restless] = [story('wrong'), story('unsure'), story('restless')]
    const undecided = [wrong, unsure].find(s => s && !s.replayed)
    if (undecided) return { ...common, story: undecided, state: 'not examined', reason: UNREPLAYED }
    if (wrong) return { ...common, story: wrong, state: 'stale', reason: `${name} can show the wrong state for good` }
    if (unsure) return { ...common, story: unsure, state: 'unsure', reason: `${name} can stay unsure for good` }
    if (restless) return { ...common, story: restless, state: 'unsure', reason: `${name} may never come to rest` }
    if (exhausted) return { ...common, story: null, state: 'not examined', reason: outOfReach }
    const timed = this.byTiming()
    return { ...common, story: null, state: timed ? 'in time' : 'in step', reason: timed || `${name} shows the truth whenever all is at rest` }
  }

  /** One for each hand control of the load. */
  private hands(own: typeof this.stories, outOfReach: string): SurfaceVerdict[] {
    const { system } = this
    if (system instanceof TooLarge) return []
    return system.controller.program.inputs.flatMap((input, i): SurfaceVerdict[] => {
      if (input.load !== 0) return []
      const { controlId } = gestureOf(input.control.id)
      const surface = handSurfaces(this.context.design).find(s => s.controls.some(c => c.id === controlId))
      const subject = `${input.control.kind === 'push' ? 'The button' : 'The switch'} on ${surface?.name ?? ''}`
      const dead = own.find(s => isPressOf(system.events[s.event], i))
      const common = { surfaceId: surface?.id ?? null, subject }
      if (dead) return [{ ...common, state: 'broken', reason: `${subject} can do nothing when it is pressed`, story: dead.story }]
      if (outOfReach) return [{ ...common, state: 'not examined', reason: outOfReach, story: null }]
      return [{ ...common, state: 'holds', reason: `${subject} always does something`, story: null }]
    })
  }

  /** Why a story of the free search does not count, with what there is to spare; "" where nothing was found at all. */
  private byTiming(): string {
    if (!this.inTime) return ''
    const { surface, context: { design, load } } = this
    const way = surface ? 2 * worstWayMs(linkOf(design, surface.linkId)) : 0
    const spare = surface && surface.belief.policy === 'confirm' ? surface.belief.timeoutMs - way : Math.min(...[0, 1, 2, 3, 4].map(slot => timerMs(load.output, slot)).filter(ms => ms > 0)) - way
    return `It holds because answers come in time: there and back takes at most ${way} ms${Number.isFinite(spare) ? `, ${spare} ms less than anything waits` : ''}`
  }
}

function isPressOf(event: SystemEvent | undefined, input: number): boolean { return (event?.kind === 'press' || event?.kind === 'hold') && event.input === input }

/** Broken is only what the bench comes to. */
const UNREPLAYED = 'Undecided: a story was found, but the bench does not come to it with the delays that the links state'

/** What holds, in words, where no find says otherwise. */
const HOLDS: Record<PromiseId, (subject: string, load: Load) => string> = {
  P1: subject => `${subject} shows the truth`,
  P2: subject => `each press on ${subject} acts once, or is seen not to`,
  P3: subject => `${subject} always does something`,
  P4: (_, load) => `${load.name} comes back as its policy says`,
  P5: (_, load) => load.output.kind === 'opposed' && load.output.drive === 'stepper' ? 'one line tells the direction: both at once cannot be' : 'the other direction waits for the dead time',
  P6: (_, load) => load.output.kind === 'pulsed' ? 'the board itself counts the pulse, whoever asked for it' : 'the board ends it when keep-alives stay away',
  P7: subject => `${subject} starts anew and moves nothing`,
  P8: subject => subject, P9: subject => subject,
}

/** What the pins do before the program runs. */
class BootPart implements Part {
  readonly promises = ['P4'] as const
  situations = 1
  transitions = 0
  cutShort = 0
  constructor(private readonly design: Design, private readonly load: Load) {}
  run(): boolean { return true }

  verdicts(): SurfaceVerdict[] {
    const { design, load } = this
    const board = boardOf(design)
    return linesOf(load.output).flatMap((line): SurfaceVerdict[] => {
      const hazard = pinOf(board, line.pin)?.hazards.find(h => h.kind === 'reset-level')
      const active = line.use.as === 'output' || line.use.as === 'pwm' ? line.use.activeLevel : null
      if (hazard?.kind !== 'reset-level' || hazard.level !== active) return []
      const bootMs = design.controllers[0]?.bootMs ?? 0
      const script: BenchScript = { seed: 1, steps: [{ atMs: 1000, action: { do: 'powerOff' } }, { atMs: 3000, action: { do: 'powerOn' } }], untilMs: 3000 + bootMs + 1500 }
      const bench = runScript(design, script)
      const nth = linesOf(load.output).findIndex(l => l.key === line.key)
      const replayed = bench.trace.lines[load.id]?.[nth]?.some(c => c.t >= 3000 && c.t <= 3000 + bootMs && c.level === (active === 'high' ? 1 : 0)) ?? false
      const steps: Story['steps'] = [{ words: 'the power is cut', kind: 'cut', surfaceId: null, is: null, shows: null }, { words: `the power returns: pin ${line.pin} is ${hazard.level} until the program starts`, kind: 'powerOn', surfaceId: null, is: null, shows: null }]
      const ending = `${load.name} is ${load.output.kind === 'opposed' ? `driven ${line.name}` : 'on'} for ${bootMs} ms while the board starts`
      return [{ surfaceId: null, subject: load.name, state: 'broken', reason: ending, story: { surfaceId: null, what: 'boots on', steps, ending, script, replayed } }]
    })
  }
}

class StrangerPart implements Part {
  readonly promises = ['P8'] as const
  situations = 0
  transitions = 0
  cutShort = 0
  private result: SurfaceVerdict | null = null
  constructor(private readonly design: Design, private readonly load: Load, private readonly surface: RemoteSurface, private readonly commands: number) {}

  run(): boolean {
    const { design, load, surface } = this
    const common = { surfaceId: surface.id, subject: surface.name }
    if (!canBeOverheard(design, surface)) {
      this.result = { ...common, state: 'holds', reason: `${surface.name} speaks over a wire: whoever listens has to touch it`, story: null }
      return true
    }
    const { story, situations, why } = replaySearch(design, load.id, surface.id, Math.max(1, Math.min(3, this.commands)))
    this.situations = situations
    this.result = story
      ? { ...common, state: 'broken', reason: `What ${surface.name} says can be recorded and said again`, story }
      : { ...common, state: 'holds', reason: `${surface.name}: ${why}`, story: null }
    return true
  }

  verdicts(): SurfaceVerdict[] { return this.result ? [this.result] : [] }
}

class OutagePart implements Part {
  readonly promises = ['P9'] as const
  situations = 0
  transitions = 0
  cutShort = 0
  private dead: ReturnType<typeof deadOutages> = []
  constructor(private readonly design: Design, private readonly load: Load) {}

  run(): boolean {
    this.dead = deadOutages(this.design, this.load.id)
    return true
  }

  verdicts(): SurfaceVerdict[] {
    const subject = this.load.name
    if (this.dead.length === 0) return [{ surfaceId: null, subject, state: 'holds', reason: 'In each outage something still works', story: null }]
    return this.dead.map(({ outage, story }) => ({ surfaceId: null, subject: outage.name, state: 'broken', reason: `${outage.name}: nothing works for ${subject}`, story }))
  }
}

/** Run a whole search at once. */
export function prove(design: Design, loadId: string, bounds: Bounds = THOROUGH, options: ProofOptions = {}): Verdict {
  return proveAll(design, loadId, bounds, { promises: ['P1'], ...options })[0] as Verdict
}

/** All the promises of a load at once. */
export function proveAll(design: Design, loadId: string, bounds: Bounds = THOROUGH, options: ProofOptions = {}): Verdict[] {
  const proof = new Proof(design, loadId, bounds, { promises: PROMISE_IDS, ...options })
  while (!proof.run(20_000)) { /* the next slice */ }
  return proof.verdicts()
}
