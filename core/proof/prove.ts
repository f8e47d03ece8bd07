/**
 * The promises of one load, each with its verdict. Searches are exhaustive within their bounds; a
 * break comes with the shortest story, replayed on the bench. Runs in slices, so that a worker can
 * report, and stop with what is known by then.
 */
import { handSurfaces, linkOf, loadOf, showsState } from '../design/find'
import { partOfLoad } from '../design/part'
import type { Control, Design, Load, FarSurface } from '../design/schema'
import { runScript } from '../bench/bench'
import type { BenchScript } from '../bench/script'
import { assumptionsOf, PATIENCE_MS, scenesFromAfar } from './assumptions'
import { bootPart } from './boot'
import { DEFAULT_BOUNDS, type Bounds } from './bounds'
import type { What } from './explore'
import type { Question } from './frame'
import { TooLarge } from './machines'
import { timerMs } from '../controller/outputs/rows'
import { deadOutages } from './outages'
import { leastGapMs } from './pace'
import { gestureOf, neighboursOf, project, searchesEchoes, worstWayMs } from './project'
import { notAsked, PROMISE_IDS, type PromiseId } from './promises'
import { BREAKS } from './questions'
import { commanding } from './replay'
import { searchKey, Searched, shapeOf, type Outcome } from './same'
import { tellStory, type Story } from './story/story'
import { infraredParts, strangerPart } from './strangers'
import type { SystemEvent } from './happenings'
import { echoesFirst } from './stated-times'
import { System, type Tables } from './system'
import { trialPart } from './trials'
import { Widening } from './widen'
import {
  isGood,
  settledPart,
  UNREPLAYED,
  type Assumption,
  type Part,
  type Result,
  type SurfaceState,
  type SurfaceVerdict,
  type UnderWay,
  type Verdict,
} from './verdict'
import { isPulse, isStepper, limitsOf } from '../design/outputs/traits'

export type { Assumption, SurfaceState, SurfaceVerdict, Verdict } from './verdict'

/**
 * `searched` is shared by the loads of a design, so that what is the same is searched once. `only`:
 * one surface of those that speak. `trials`: what the search leaves out is tried on the bench;
 * without them it is only told.
 */
export interface ProofOptions {
  promises?: readonly PromiseId[]
  searched?: Searched
  neighbours?: Map<string, string[]>
  only?: string
  trials?: boolean
}

export class Proof {
  private readonly parts: Part[]
  private at = 0
  private readonly load: Load

  private readonly promises: readonly PromiseId[]
  private readonly assumed: ReadonlyMap<PromiseId, Assumption[]>

  constructor(
    whole: Design,
    readonly loadId: string,
    private readonly bounds: Bounds = DEFAULT_BOUNDS,
    {
      promises = ['P1'],
      searched = new Searched(),
      neighbours,
      only,
      trials = true,
    }: ProofOptions = {},
  ) {
    this.promises = promises
    const design = partOfLoad(whole, loadId)
    const load = (this.load = loadOf(design, loadId))
    const asked = (p: PromiseId) => promises.includes(p) && notAsked(load, p) === ''
    const context: Context = {
      design,
      load,
      searched,
      bounds,
      neighbours: neighbours ?? neighboursOf(design),
      tables: new Map(),
      shapes: new Map(),
      projected: once(() => project(design, loadId, { neighbours: context.neighbours })),
    }
    const speaking = commanding(design, loadId).filter(s => only === undefined || s.id === only)
    const assumed = (this.assumed = new Map(
      promises.map(p => [
        p,
        asked(p)
          ? assumptionsOf(whole, loadId, p).filter(
              a => a.surfaceId === null || speaking.some(s => s.id === a.surfaceId),
            )
          : [],
      ]),
    ))
    const parts: Part[] = []
    // Where something that may break it was left out, the bench, which leaves out nothing, is tried
    // too.
    const withTrial = (promise: 'P1' | 'P2', s: FarSurface, part: Part): Part[] =>
      trials && assumed.get(promise)?.some(a => (a.open || a.id === 'echo') && a.surfaceId === s.id)
        ? [part, trialPart(design, loadId, s, promise, part)]
        : [part]
    // What a surface shows and what its start does are found in one search, where both are asked.
    const starts = asked('P7')
    if (asked('P1'))
      parts.push(
        ...speaking
          .filter(showsState)
          .flatMap(s =>
            withTrial(
              'P1',
              s,
              starts
                ? new SearchPart(context, ['P1', 'P7'], s, 'restart')
                : new SearchPart(context, ['P1'], s, 'truth'),
            ),
          ),
      )
    if (asked('P2'))
      parts.push(
        ...speaking.flatMap(s => withTrial('P2', s, new SearchPart(context, ['P2'], s, 'twice'))),
        ...farScenes(whole, load),
      )
    const board = (['P3', 'P4', 'P5', 'P6'] as const).filter(asked)
    if (board.length) parts.push(new SearchPart(context, board, null, 'board'))
    if (asked('P4')) parts.push(bootPart(design, load))
    if (starts)
      parts.push(
        ...speaking
          .filter(s => !asked('P1') || !showsState(s))
          .map(s => new SearchPart(context, ['P7'], s, 'restart')),
      )
    if (asked('P8'))
      parts.push(
        ...speaking.map(s => strangerPart(design, load, s)),
        ...(only === undefined ? infraredParts(design, load) : []),
      )
    if (asked('P9')) parts.push(outagePart(design, load))
    this.parts = parts
  }

  get situations(): number {
    return this.parts.reduce((sum, p) => sum + p.situations, 0)
  }

  /** True when done. */
  run(slice: number): boolean {
    const part = this.parts[this.at]
    if (!part) return true
    if (part.run(slice)) this.at++
    return this.at >= this.parts.length
  }

  /** Of what is done by now; a part that is not is not examined. */
  verdicts(): Verdict[] {
    return this.promises.map(p => this.verdictOf(p))
  }

  verdict(): Verdict {
    return this.verdictOf(this.promises[0] as PromiseId)
  }

  private verdictOf(promise: PromiseId): Verdict {
    const parts = this.parts.filter(p => p.promises.includes(promise))
    const found = parts.flatMap(p =>
      this.at > this.parts.indexOf(p)
        ? p.verdicts(promise)
        : [
            {
              surfaceId: null,
              subject: this.load.name,
              state: 'not examined' as const,
              reason: 'stopped before it was searched',
              story: null,
            },
          ],
    )
    const settled = (surfaceId: string) =>
      found.some(s => s.surfaceId === surfaceId && isGood(s.state))
    const assumptions = [
      ...(this.assumed.get(promise) ?? []).map(a =>
        a.unless !== undefined && settled(a.unless) ? { ...a, open: false } : a,
      ),
      ...parts.flatMap(p => underWayAssumed(p, promise)),
    ]
    const surfaces = found
      .filter((s, i) => !isOutdone(s, found.slice(i + 1)))
      .map(s => inPart(s, assumptions))
    const why = notAsked(this.load, promise)
    return {
      promise,
      loadId: this.loadId,
      bounds: this.bounds,
      surfaces,
      assumptions,
      ...(why ? { result: 'not asked' as const, reason: why } : summary(promise, surfaces)),
      situations: parts.reduce((sum, s) => sum + s.situations, 0),
      transitions: parts.reduce((sum, s) => sum + s.transitions, 0),
      underWay: mostUnderWay(parts),
    }
  }
}

/**
 * What holds with so many under way at once was not tried with more, where one more would still add
 * something.
 */
function underWayAssumed(part: Part, promise: PromiseId): Assumption[] {
  const { underWay } = part
  if (!underWay || underWay.suffices) return []
  return part
    .verdicts(promise)
    .filter(v => isGood(v.state))
    .map(v => ({
      id: 'under-way',
      open: false,
      surfaceId: v.surfaceId,
      words: `on the link of ${v.subject} no more than ${underWay.most} messages are under way at once, answers apart; more were not tried`,
    }))
}

/** Of several searches the one with most under way; it suffices where it does in each. */
function mostUnderWay(parts: readonly Part[]): UnderWay | null {
  const all = parts.flatMap(p => p.underWay ?? [])
  return all.length
    ? { most: Math.max(...all.map(u => u.most)), suffices: all.every(u => u.suffices) }
    : null
}

/**
 * What a trial found about a surface takes the place of what the search, which left something out,
 * said of it.
 */
function isOutdone(verdict: SurfaceVerdict, later: readonly SurfaceVerdict[]): boolean {
  return (
    verdict.surfaceId !== null
    && (isGood(verdict.state) || verdict.state === 'not examined')
    && later.some(
      l =>
        l.surfaceId === verdict.surfaceId
        && l.subject === verdict.subject
        && !isGood(l.state)
        && l.state !== 'not examined',
    )
  )
}

/** Nothing breaks it in what was examined; what was not is said with it. */
function inPart(verdict: SurfaceVerdict, assumptions: readonly Assumption[]): SurfaceVerdict {
  const open = isGood(verdict.state)
    ? assumptions.filter(a => a.open && (a.surfaceId === null || a.surfaceId === verdict.surfaceId))
    : []
  return open.length
    ? {
        ...verdict,
        state: 'in part',
        reason: `${verdict.reason}; not examined: ${open.map(a => a.words).join('; ')}`,
      }
    : verdict
}

/**
 * A scene that is asked of another board's link: the load never hears of it, and whoever pressed is
 * told nothing.
 */
function farScenes(whole: Design, load: Load): Part[] {
  return scenesFromAfar(whole, load).map(({ scene, surface, linkName }) =>
    settledPart('P2', () => [
      {
        surfaceId: null,
        subject: surface.name,
        state: 'broken',
        story: null,
        reason: `"${scene}" on ${surface.name} is asked of another board over ${linkName}, which does not pass it on: ${load.name} never hears of it`,
      },
    ]),
  )
}
const NOT_ASKED: Partial<Record<PromiseId, string>> = {
  P1: 'No panel shows this load.',
  P3: 'No hand control moves it.',
}

function summary(
  promise: PromiseId,
  surfaces: readonly SurfaceVerdict[],
): { result: Result; reason: string } {
  const of = (...states: SurfaceState[]) =>
    [...new Set(surfaces.filter(s => states.includes(s.state)).map(s => s.reason))].join('; ')
  if (surfaces.length === 0)
    return { result: 'not asked', reason: NOT_ASKED[promise] ?? 'Nothing commands it over a link.' }
  const broken = of('stale', 'unsure', 'broken')
  if (broken) return { result: 'broken', reason: broken }
  const open = of('not examined')
  if (open) return { result: 'gave up', reason: open }
  const partly = of('in part')
  if (partly) return { result: 'in part', reason: partly }
  const timed = of('in time')
  if (timed) return { result: 'by timing', reason: timed }
  return {
    result: 'holds',
    reason:
      promise === 'P1'
        ? 'At rest every panel shows the truth'
        : [...new Set(surfaces.map(s => s.reason))].join('; '),
  }
}

interface Context {
  design: Design
  load: Load
  searched: Searched
  bounds: Bounds
  neighbours: Map<string, string[]>
  tables: Tables
  /** By surface. */ shapes: Map<string | null, string>
  projected: () => Design
}

function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => (made ??= { value: make() }).value
}

/** Hand controls of the load, whose pace counts. */
function handsOf(design: Design, loadId: string): Control[] {
  return handSurfaces(design)
    .flatMap(s => s.controls)
    .filter(c => c.loadId === loadId)
}

/** What ends a search at once. */
const UNTIL: Record<Question, readonly What[]> = {
  truth: ['wrong'],
  twice: ['twice'],
  restart: [],
  board: [],
}

class SearchPart implements Part {
  situations = 0
  transitions = 0
  underWay: UnderWay | null = null
  private phase: 'free' | 'told' | 'in time' | 'done' = 'free'
  private readonly systems: { free?: System; inTime?: System } = {}
  private search: Widening | null = null
  private free: Outcome | null = null
  /** What of it needs delays beyond the stated ones, as is known already. */
  private beyond: readonly What[] = []
  private inTime: { search: Widening | null; outcome: Outcome | null } | null = null
  private stories: { what: What; event: number; story: Story }[] = []
  private tooLarge: TooLarge | null = null

  constructor(
    private readonly context: Context,
    readonly promises: readonly PromiseId[],
    private readonly surface: FarSurface | null,
    private readonly question: Question,
  ) {}

  run(slice: number): boolean {
    try {
      return this.goOn(slice)
    } catch (error) {
      if (!(error instanceof TooLarge)) throw error
      this.tooLarge = error
      this.search = null
      this.phase = 'done'
      return true
    }
  }

  private goOn(slice: number): boolean {
    if (this.tooLarge || this.phase === 'done') return true
    if (this.phase === 'free') {
      this.free = this.advance(
        false,
        slice,
        () => this.search,
        s => {
          this.search = s
        },
      )
      if (!this.free) return false
      this.search = null
      this.beyond = this.beyondTime(this.free)
      this.tell(false, this.free, this.beyond)
      this.phase = 'told'
    }
    // A story that the bench does not come to may need delays beyond the stated ones: searched
    // again within them.
    if (this.phase === 'told') {
      if (this.stories.every(s => s.story.replayed) && this.beyond.length === 0) {
        this.phase = 'done'
        return true
      }
      this.inTime = { search: null, outcome: null }
      this.phase = 'in time'
    }
    const inTime = this.inTime as NonNullable<typeof this.inTime>
    inTime.outcome = this.advance(
      true,
      slice,
      () => inTime.search,
      s => {
        inTime.search = s
      },
    )
    if (!inTime.outcome) return false
    inTime.search = null
    const before = this.stories
    this.stories = before.filter(s => s.story.replayed)
    this.tell(
      true,
      inTime.outcome,
      before.filter(s => s.story.replayed).map(s => s.what),
    )
    this.phase = 'done'
    return true
  }

  /** The outcome of a search, or null while it goes on. */
  private advance(
    within: boolean,
    slice: number,
    get: () => Widening | null,
    set: (s: Widening) => void,
  ): Outcome | null {
    const { searched, bounds } = this.context
    const key = this.keyOf(within)
    const known = searched.get(key)
    if (known) return this.counted(known)
    let search = get()
    if (!search) set((search = new Widening(this.system(within), UNTIL[this.question], bounds)))
    this.situations = search.situations
    if (!search.run(slice)) return null
    const outcome = search.outcome()
    searched.set(key, outcome)
    return this.counted(outcome)
  }

  /**
   * What another load that is built alike, with the same times, has come to in the free search
   * alone: its story needs delays beyond the stated ones, and so does this one's.
   */
  private beyondTime({ finds }: Outcome): What[] {
    const known = finds.length ? this.context.searched.get(this.keyOf(true)) : undefined
    return known && !known.exhausted
      ? finds.map(f => f.what).filter(w => known.finds.every(f => f.what !== w))
      : []
  }

  private counted(outcome: Outcome): Outcome {
    this.situations = (this.free?.situations ?? 0) + outcome.situations
    this.transitions += outcome.transitions
    if (this.surface) this.underWay = { most: outcome.underWay, suffices: outcome.suffices }
    return outcome
  }

  private tell(within: boolean, outcome: Outcome, but: readonly What[] = []): void {
    const { design } = this.context
    const breaks = this.promises.flatMap(p => BREAKS[p] ?? [])
    const wrong = outcome.finds.some(f => f.what === 'wrong')
    for (const { what, path, event } of outcome.finds) {
      // Where a panel can be wrong for good, that it can be unsure is no news.
      if (!breaks.includes(what) || but.includes(what) || (what === 'unsure' && wrong)) continue
      this.stories.push({
        what,
        event,
        story: tellStory(design, this.system(within), path, this.surface?.id ?? null, what),
      })
    }
  }

  /**
   * Made when something is searched or told; what holds by what another load has come to needs
   * none.
   */
  private system(inTime: boolean): System {
    const { design, load, neighbours, tables } = this.context
    const which = inTime ? 'inTime' : 'free'
    return (this.systems[which] ??= new System(design, load.id, this.surface?.id ?? null, {
      question: this.question,
      inTime,
      neighbours,
      tables,
    }))
  }

  private keyOf(inTime: boolean): string {
    const { design, load, bounds, shapes, projected } = this.context
    const { output } = load
    const id = this.surface?.id ?? null
    let shape = shapes.get(id)
    if (shape === undefined) shapes.set(id, (shape = shapeOf(projected(), id)))
    const link = this.surface && linkOf(design, this.surface.linkId)
    return searchKey(shape, bounds, { question: this.question, inTime }, [
      link?.auth.kind === 'counter',
      link !== null && searchesEchoes(design, link.id),
      inTime
        ? [
            link?.leastMs,
            link?.queue ? link.id : '',
            link !== null && searchesEchoes(design, link.id) && echoesFirst(design, link),
          ]
        : null,
      inTime
        ? [
            [0, 1, 2, 3, 4].map(slot => timerMs(output, slot)),
            handsOf(design, load.id).map(leastGapMs),
          ]
        : null,
    ])
  }

  verdicts(promise: PromiseId): SurfaceVerdict[] {
    const { load } = this.context
    const subject = this.surface?.name ?? load.name
    const surfaceId = this.surface?.id ?? null
    if (this.tooLarge)
      return [
        { surfaceId, subject, state: 'not examined', reason: this.tooLarge.message, story: null },
      ]
    const own = this.stories.filter(s => BREAKS[promise]?.includes(s.what))
    const exhausted = (this.inTime?.outcome ?? this.free)?.exhausted ?? false
    const outOfReach = `${subject}: no break in ${this.situations} situations, then the bound ended the search`
    switch (promise) {
      case 'P1':
        return [this.truth(own, exhausted, outOfReach)]
      case 'P3':
        return this.hands(own, exhausted ? outOfReach : '')
      default: {
        const first = own.find(s => s.story.replayed)
        if (!first && own[0])
          return [
            { surfaceId, subject, state: 'not examined', reason: UNREPLAYED, story: own[0].story },
          ]
        if (first)
          return [
            { surfaceId, subject, state: 'broken', reason: first.story.ending, story: first.story },
          ]
        if (exhausted)
          return [{ surfaceId, subject, state: 'not examined', reason: outOfReach, story: null }]
        const timed = this.byTiming(promise)
        return [
          {
            surfaceId,
            subject,
            state: timed ? 'in time' : 'holds',
            reason: timed || HOLDS[promise](subject, load),
            story: null,
          },
        ]
      }
    }
  }

  private truth(own: typeof this.stories, exhausted: boolean, outOfReach: string): SurfaceVerdict {
    const { surface } = this
    const { name = '', id = '' } = surface ?? {}
    const story = (what: What) => own.find(s => s.what === what)?.story
    const common = { surfaceId: id, subject: name }
    const [wrong, unsure, restless] = [story('wrong'), story('unsure'), story('restless')]
    // What the bench came to counts before what it did not.
    if (wrong?.replayed)
      return {
        ...common,
        story: wrong,
        state: 'stale',
        reason: `${name} can show the wrong state for good`,
      }
    if (unsure?.replayed)
      return {
        ...common,
        story: unsure,
        state: 'unsure',
        reason: `${name} can stay unsure for good`,
      }
    const undecided = wrong ?? unsure
    if (undecided) return { ...common, story: undecided, state: 'not examined', reason: UNREPLAYED }
    if (restless && !restless.replayed)
      return { ...common, story: restless, state: 'not examined', reason: UNREPLAYED }
    if (restless)
      return {
        ...common,
        story: restless,
        state: 'unsure',
        reason: `${name} may never come to rest`,
      }
    if (exhausted) return { ...common, story: null, state: 'not examined', reason: outOfReach }
    const timed = this.byTiming('P1')
    return {
      ...common,
      story: null,
      state: timed ? 'in time' : 'in step',
      reason: timed || `${name} shows the truth whenever all is at rest`,
    }
  }

  /** One for each hand control of the load. */
  private hands(own: typeof this.stories, outOfReach: string): SurfaceVerdict[] {
    const system = this.system(false)
    return system.controller.program.inputs.flatMap((input, i): SurfaceVerdict[] => {
      if (input.load !== 0) return []
      const { controlId } = gestureOf(input.control.id)
      const surface = handSurfaces(this.context.design).find(s =>
        s.controls.some(c => c.id === controlId),
      )
      const subject = `${input.control.kind === 'push' ? 'The button' : 'The switch'} on ${surface?.name ?? ''}`
      const dead = own.find(s => isPressOf(system.events[s.event], i))
      const common = { surfaceId: surface?.id ?? null, subject }
      const real = surface?.controls.find(c => c.id === controlId)
      const lockedOut = real ? lockOut(this.context.design, this.context.load, real, subject) : null
      if (dead?.story.replayed)
        return [
          {
            ...common,
            state: 'broken',
            reason: `${subject} can do nothing when it is pressed`,
            story: dead.story,
          },
        ]
      if (lockedOut)
        return [{ ...common, state: 'broken', reason: lockedOut.ending, story: lockedOut }]
      if (dead) return [{ ...common, state: 'not examined', reason: UNREPLAYED, story: dead.story }]
      if (outOfReach) return [{ ...common, state: 'not examined', reason: outOfReach, story: null }]
      const once =
        real?.kind === 'push' && real.lockoutMs
          ? `, once ${real.lockoutMs} ms have passed since the press before`
          : ''
      return [
        {
          ...common,
          state: 'holds',
          reason: `${subject} always does something${once}`,
          story: null,
        },
      ]
    })
  }

  /**
   * Why a story of the free search does not count, with what there is to spare; "" where nothing
   * was found at all.
   */
  private byTiming(promise: PromiseId): string {
    if (!this.inTime || !this.free?.finds.some(f => BREAKS[promise]?.includes(f.what))) return ''
    const {
      surface,
      context: { design, load },
    } = this
    const way = surface ? 2 * worstWayMs(linkOf(design, surface.linkId)) : 0
    const spare =
      surface && surface.belief.policy === 'confirm'
        ? surface.belief.timeoutMs - way
        : Math.min(...[0, 1, 2, 3, 4].map(slot => timerMs(load.output, slot)).filter(ms => ms > 0))
          - way
    return `It holds because answers come in time: there and back takes at most ${way} ms${Number.isFinite(spare) ? `, ${spare} ms less than anything waits` : ''}`
  }
}

/**
 * A lock-out that is longer than people wait: whoever saw nothing happen, or wants it back, presses
 * again, and nothing comes of it. Held against the same control without a lock-out, on the bench.
 */
function lockOut(design: Design, load: Load, control: Control, subject: string): Story | null {
  if (control.kind !== 'push' || control.lockoutMs <= PATIENCE_MS) return null
  const pressMs = 4000 + leastMs(load)
  const script: BenchScript = {
    seed: 1,
    steps: [0, PATIENCE_MS].map(after => ({
      atMs: pressMs + after,
      action: { do: 'press', controlId: control.id },
    })),
    untilMs: pressMs + PATIENCE_MS + 600,
  }
  const without: Design = {
    ...design,
    surfaces: design.surfaces.map(s =>
      s.kind === 'hand'
        ? {
            ...s,
            controls: s.controls.map(c =>
              c.id === control.id ? ({ ...c, lockoutMs: 0 } as Control) : c,
            ),
          }
        : s,
    ),
  }
  const moves = (d: Design) => runScript(d, script).trace.moves[load.id] ?? 0
  if (moves(design) >= moves(without)) return null
  const press = (words: string): Story['steps'][number] => ({
    words,
    kind: 'press',
    surfaceId: null,
    is: null,
    shows: null,
  })
  return {
    surfaceId: null,
    what: 'dead',
    script,
    replayed: true,
    steps: [
      press(`Somebody presses the button of ${load.name}`),
      press(`${PATIENCE_MS / 1000} s later they press it again`),
    ],
    ending: `${subject} does nothing for ${control.lockoutMs / 1000} s after a press: its lock-out is longer than people wait`,
  }
}

function leastMs({ output }: Load): number {
  const limits = limitsOf(output)
  return limits ? Math.max(limits.minOffMs, limits.minOnMs) : 0
}

function isPressOf(event: SystemEvent | undefined, input: number): boolean {
  return (event?.kind === 'press' || event?.kind === 'hold') && event.input === input
}

/** What holds, in words, where no find says otherwise. */
const HOLDS: Record<PromiseId, (subject: string, load: Load) => string> = {
  P1: subject => `${subject} shows the truth`,
  P2: subject => `each press on ${subject} acts once, or is seen not to`,
  P3: subject => `${subject} always does something`,
  P4: (_, load) => `${load.name} comes back as its policy says`,
  P5: (_, load) =>
    isStepper(load.output)
      ? 'one line tells the direction: both at once cannot be'
      : 'the other direction waits for the dead time',
  P6: (_, load) =>
    isPulse(load.output)
      ? 'the board itself counts the pulse, whoever asked for it'
      : 'the board ends it when keep-alives stay away',
  P7: subject => `${subject} starts anew and moves nothing`,
  P8: subject => subject,
  P9: subject => subject,
}

function outagePart(design: Design, load: Load): Part {
  return settledPart('P9', () => {
    const dead = deadOutages(design, load.id)
    if (dead.length === 0)
      return [
        {
          surfaceId: null,
          subject: load.name,
          state: 'holds',
          reason: 'In each outage something still works',
          story: null,
        },
      ]
    return dead.map(({ outage, story }) => ({
      surfaceId: null,
      subject: outage.name,
      state: 'broken',
      reason: `${outage.name}: nothing works for ${load.name}`,
      story,
    }))
  })
}

/** Run a whole search at once. */
export function prove(
  design: Design,
  loadId: string,
  bounds: Bounds = DEFAULT_BOUNDS,
  options: ProofOptions = {},
): Verdict {
  return proveAll(design, loadId, bounds, { promises: ['P1'], ...options })[0] as Verdict
}

/** All the promises of a load at once. */
export function proveAll(
  design: Design,
  loadId: string,
  bounds: Bounds = DEFAULT_BOUNDS,
  options: ProofOptions = {},
): Verdict[] {
  const proof = new Proof(design, loadId, bounds, { promises: PROMISE_IDS, ...options })
  while (!proof.run(20_000)) {
    /* the next slice */
  }
  return proof.verdicts()
}
