/**
 * A path of the search told in the maker's words and laid out in real time for the bench. Every
 * message of the story gets a fate (its arrival, or lost with its link), so that what crossed in
 * the search crosses on the bench too.
 */
import { Bench } from '../../bench/bench'
import type { BenchScript } from '../../bench/script'
import type { Design } from '../../design/schema'
import { valueWords } from '../../design/values'
import type { Find, What } from '../explore'
import type { SystemEvent } from '../happenings'
import type { System } from '../system'
import { Cast } from './cast'
import { Clock } from './clock'
import { Flight } from './flight'
import { triesOf, type Times } from './ways'
import { endingWords, eventWords } from './words'
import { nth } from '../../units/lists'

/**
 * `is`, `shows`: how the load is and what the surface shows after the step; null where that is not
 * followed.
 */
export interface StoryStep {
  words: string
  kind: SystemEvent['kind'] | 'overtakeUp' | 'overtakeDown' | 'fault'
  surfaceId: string | null
  is: string | null
  shows: string | null
}
export interface Story {
  /** The surface it is about; null where it is about the load alone. */
  surfaceId: string | null
  what: What | 'boots on' | 'replayed by a stranger' | 'kept back by a stranger' | 'cut off'
  steps: StoryStep[]
  /** How it ends: "Apron phone shows on, Booth extractor is off". */
  ending: string
  script: BenchScript
  /** The bench came to the same end by the same way. */
  replayed: boolean
}

/** How long the bench goes on after what is told, ms. */
const SETTLE_MS = 2500
/** Events after which it is told what the load did. */
const TELLS_MOVES: readonly SystemEvent['kind'][] = [
  'deliverUp',
  'doubleUp',
  'press',
  'other',
  'otherScene',
  'remote',
  'turn',
  'push',
  'rule',
  'end',
  'timer',
  'hold',
  'letGo',
  'powerOn',
]

/** What goes round for ever says so much in so long a time, ms. */
const ROUND_MS = 500
const ROUND_MESSAGES = 5
/** Texts that come back take no longer than this, ms. */
const LONGEST_ECHO_MS = 200
/** Found on the way, not at rest: what comes after is not told. */
const ENDS_THERE: readonly What[] = [
  'dead',
  'clashed',
  'twice',
  'moved',
  'jumped',
  'astray',
  'restless',
]
/** Found where all is at rest: what is shown there is a part of it. */
const AT_REST: readonly What[] = ['wrong', 'unsure', 'vanished']

/** Tells a path as the first of its ways that the bench comes to, or else as the plainest. */
export function tellStory(
  design: Design,
  system: System,
  path: readonly number[],
  surfaceId: string | null,
  what: Find['what'],
): Story {
  const cast = new Cast(design, system, surfaceId)
  let told: Story | null = null
  for (const { way, ...times } of triesOf(design, system, path, surfaceId)) {
    const story = new Teller(cast, what, times).story(way)
    told ??= story
    if (story.replayed) return story
  }
  return told as Story
}

class Teller {
  private s: Int32Array
  private readonly steps: StoryStep[] = []
  private readonly flight: Flight
  private readonly clock: Clock
  /** Values of the load, one after another. */
  private readonly values: string[] = []

  constructor(
    private readonly cast: Cast,
    private readonly what: Find['what'],
    times: Times,
  ) {
    this.s = cast.system.initial()
    this.flight = new Flight(cast)
    this.clock = new Clock(cast, this.flight, times, this.s)
    this.values.push(cast.system.value(this.s))
  }

  story(path: readonly number[]): Story {
    const { what } = this
    const { system, surfaceId, load, panel } = this.cast
    const events = path.map(i => nth(system.events, i))
    path.forEach((event, i) => this.tell(event, events.slice(i + 1)))
    // Memory that is old shows only when the power is back.
    if (what === 'astray' && !system.powered(this.s))
      this.tell(system.events.findIndex(e => e.kind === 'powerOn'))
    const truth = system.value(this.s)
    const shown = system.panel?.shown(system.panelOf(this.s)) ?? 'unknown'
    const runs = what === 'stuck' && 'timeoutMs' in load.output ? 3 * load.output.timeoutMs : 0
    const untilMs = this.clock.t + Math.max(SETTLE_MS, runs)
    const end = { surface: panel?.name ?? '', load, truth, shown, values: this.values }
    const { fates, replayed } = this.replay(truth, shown, untilMs)
    return {
      surfaceId,
      what,
      steps: this.steps.filter((step, i) => this.isTold(step, i)),
      script: { seed: 1, steps: this.clock.script, fates, untilMs },
      ending: endingWords(what, { ...end, showsIt: system.showsIt }),
      replayed,
    }
  }

  /** What nobody has to know is left out: that something has left, and saving before no cut. */
  private isTold({ kind }: StoryStep, i: number): boolean {
    if (kind === 'sent') return false
    return kind !== 'save' || this.steps.slice(i).some(later => later.kind === 'cut')
  }

  /** The story on the bench: what became of each message, and whether it ends the same way. */
  private replay(truth: string, shown: string, untilMs: number) {
    const { what, flight, clock } = this
    const { design, system, surfaceId, panel } = this.cast
    const { loadId, echoes } = system
    const fates: NonNullable<BenchScript['fates']> = {}
    const bench = new Bench(design, 1, (key, dir, text, now) => {
      const linkId = key.slice(0, key.indexOf(' '))
      const own = panel?.linkId === linkId
      const other = dir === 'up' ? flight.otherFate(linkId, now) : undefined
      const fate = own ? flight.fateOf(dir, text, now) : other
      if (fate !== undefined) fates[key] = fate
      return fate
    })
    // Echoes follow one another within one ms: what the load was in between counts too.
    const passed = new Map<number, string[]>()
    if (echoes)
      bench.onPassed = (id, value) => {
        if (id === loadId) passed.set(bench.now, [...(passed.get(bench.now) ?? []), value])
      }
    bench.plan(clock.script)
    // What comes after the find is not in the story: where it is found on the way, it is looked at
    // there.
    const onTheWay = ENDS_THERE.includes(what)
    const endsAt = onTheWay ? clock.t + 1 : untilMs
    while (!bench.advance(endsAt)) {
      /* the next slice */
    }
    const came = () => {
      const was = (bench.trace.truth[loadId] ?? []).flatMap(c => [
        ...(passed.get(c.t) ?? []).map(value => ({ t: c.t, value })),
        c,
      ])
      const upTo = (n: number) =>
        sameWay(
          this.values,
          was.slice(0, n).map(c => c.value),
        )
      if (bench.value(loadId) === truth && upTo(was.length)) return true
      // What comes back next may have moved it on by now.
      return echoes && onTheWay && was.some((c, i) => c.t >= clock.t && upTo(i + 1))
    }
    // What comes back may be a longer text than that of the story, which knows one load only.
    if (echoes && onTheWay)
      for (let ms = 1; !came() && ms < LONGEST_ECHO_MS; ms++) bench.advance(endsAt + ms)
    const same = came() && (what !== 'restless' || !echoes || this.goesRound(bench, untilMs))
    const looks = AT_REST.includes(what) && surfaceId && system.showsIt
    const replayed = same && !flight.beyond && (!looks || bench.shown(surfaceId, loadId) === shown)
    return { fates, replayed }
  }

  /** Seconds later messages still cross, more than anybody asks for. */
  private goesRound(bench: Bench, untilMs: number): boolean {
    bench.advance(untilMs)
    const late = bench.trace.messages.filter(
      m => m.linkId === this.cast.link?.id && m.sentMs > bench.now - ROUND_MS,
    )
    return late.length >= ROUND_MESSAGES
  }

  private tell(index: number, ahead: readonly SystemEvent[] = []): void {
    const { cast, flight, clock } = this
    const { system, load } = cast
    const event = nth(system.events, index)
    const was = this.s
    const before = { up: system.queueOf(was, 'up'), down: system.queueOf(was, 'down') }
    const words = eventWords(event, { cast, flight, s: was })
    const kind = this.kindOf(event)
    clock.place(event, was, ahead, this.steps.length === 0)
    this.s = system.after(was, index) ?? was
    flight.follow(event, before, this.s, clock.t)
    const is = system.value(this.s)
    const moved = is !== system.value(was)
    if (moved) this.values.push(is)
    clock.note(event, was, this.s, moved)
    const tells = moved && TELLS_MOVES.includes(event.kind)
    const shows = system.panel && system.showsIt ? system.panel.shown(system.panelOf(this.s)) : null
    this.steps.push({
      kind,
      words: tells ? `${words}: ${load.name} goes ${valueWords(load.output, is)}` : words,
      surfaceId: cast.whose(event),
      is: system.powered(this.s) ? is : null,
      shows,
    })
  }

  private kindOf(event: SystemEvent): StoryStep['kind'] {
    if (!this.flight.overtakes(event, this.s)) return event.kind
    return event.kind === 'deliverUp' ? 'overtakeUp' : 'overtakeDown'
  }
}

/** The bench went through the same values in the same order. */
function sameWay(told: readonly string[], was: readonly string[]): boolean {
  const moves = was.filter((v, i) => i === 0 || v !== was[i - 1])
  const last = moves.slice(-told.length)
  return last.length === told.length && last.every((v, i) => v === told[i])
}
