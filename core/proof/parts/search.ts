/**
 * The part of a proof that is a search: free of times first, and within the stated ones where a
 * story of the first needs delays beyond them. Runs in slices.
 */
import { BREAKS } from '../questions'
import type { Context } from './context'
import type { Control, Design, FarSurface, Load } from '../../design/schema'
import { type Outcome, searchKey, shapeOf } from '../same'
import { UNREPLAYED } from '../verdict'
import type { PromiseId } from '../promises'
import type { Question } from '../frame'
import type { SurfaceVerdict, Part, UnderWay } from '../verdict'
import { System } from '../system'
import { type Told, truthOf } from './truth'
import { TooLarge } from '../tables/table'
import type { What } from '../explore'
import { Widening } from '../widen'
import { echoesFirst } from '../stated-times'
import { handSurfaces, linkOf } from '../../design/find'
import { handsVerdicts } from './hands'
import { isPulse, linesExclude } from '../../design/outputs/traits'
import { leastGapMs } from '../pace'
import { roundTripMs, searchesEchoes } from '../project'
import { tellStory } from '../story/story'
import { timerMs } from '../../controller/outputs/rows'
import { takesOnce } from '../../design/links/traits'

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

export class SearchPart implements Part {
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
  private stories: Told[] = []
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
      link !== null && takesOnce(link.auth),
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
        return [truthOf(this.surface, own, exhausted ? outOfReach : '', () => this.byTiming('P1'))]
      case 'P3':
        return handsVerdicts(this.context, this.system(false), own, exhausted ? outOfReach : '')
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
    const way = surface ? roundTripMs(linkOf(design, surface.linkId)) : 0
    const spare =
      surface && surface.belief.policy === 'confirm'
        ? surface.belief.timeoutMs - way
        : Math.min(...[0, 1, 2, 3, 4].map(slot => timerMs(load.output, slot)).filter(ms => ms > 0))
          - way
    return `It holds because answers come in time: there and back takes at most ${way} ms${Number.isFinite(spare) ? `, ${spare} ms less than anything waits` : ''}`
  }
}

/** What holds, in words, where no find says otherwise. */
const HOLDS: Record<PromiseId, (subject: string, load: Load) => string> = {
  P1: subject => `${subject} shows the truth`,
  P2: subject => `each press on ${subject} acts once, or is seen not to`,
  P3: subject => `${subject} always does something`,
  P4: (_, load) => `${load.name} comes back as its policy says`,
  P5: (_, load) =>
    linesExclude(load.output)
      ? 'the other direction waits for the dead time'
      : 'it steps one way or the other: both at once cannot be',
  P6: (_, load) =>
    isPulse(load.output)
      ? 'the board itself counts the pulse, whoever asked for it'
      : 'the board ends it when keep-alives stay away',
  P7: subject => `${subject} starts anew and moves nothing`,
  P8: subject => subject,
  P9: subject => subject,
}
