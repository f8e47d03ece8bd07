/**
 * A run through the steps: what has been heard of the one at hand, what a person answered, and what
 * differs with its likely cause. Pure: times are handed in, what is to be pressed is handed out.
 * Interrupted at any moment it goes on from its results.
 */
import type { Design } from '../../design/schema'
import { linkOf, loadOf } from '../../design/find'
import { isOpposed } from '../../design/outputs/traits'
import { restOf, valuesOf, valueWords } from '../../design/values'
import { worstWayMs } from '../../design/links/traits'
import { fingerprint } from '../../design/fingerprint'
import type { Prints } from '../causes'
import type { LiveLink, Told } from '../link'
import { likelyCause, type Difference } from './differences'
import { truthOf } from '../sheet'
import type { Answer, Heard, Result, ResultState } from './results'
import type { Expected, Step } from './steps'

/** What a run needs of the links that are connected. */
export interface Surroundings {
  links: () => readonly LiveLink[]
  /** Presses a key over a link. */
  press: (linkId: string, loadId: string, want: string) => void
  /** Asks who is there over a link. */
  hello: (linkId: string) => void
  /** Asks for the state over a link. */
  ask: (linkId: string) => void
  prints: () => Prints
  /** ISO 8601. */
  date: () => string
  /** A step has a result. */
  ended?: (stepId: string) => void
}

/** So long what was set before is waited for, ms. */
const PREPARE_MS = 1500
/** Whoever may have started anew is asked so often who is there, ms. */
const HELLO_MS = 2000

interface AtHand {
  step: Step
  beganAt: number
  /** When the deed was done, or its first sign was heard; null = not yet. */
  deedAt: number | null
  /** Nothing is switched before somebody who looks says so. */
  isReady: boolean
  /** Until then what it starts from is set, ms; null = it is. */
  preparedAt: number | null
  heard: Heard[]
  heldAt: (number | null)[]
  restarts: ReadonlyMap<string, number>
  /** When who is there was asked last, ms. */
  helloAt: number
  answer: Answer | null
  otherId: string | null
}

export class CommissioningRun {
  private hand: AtHand | null = null

  private readonly print: string

  constructor(
    readonly design: Design,
    readonly steps: readonly Step[],
    readonly results: Map<string, Result>,
    private readonly around: Surroundings,
  ) {
    this.print = fingerprint(design)
  }

  /** The step at hand. */
  get current(): Step | null {
    return this.hand?.step ?? null
  }

  /** What a person does or looks at now, in words. */
  get headline(): string {
    const { step } = this.hand ?? {}
    if (!step) return ''
    const isOwn = step.deed !== null && this.link(step.deed.linkId)?.up === true
    return (isOwn && step.looks) || step.does || step.about
  }

  get heard(): readonly Heard[] {
    return this.hand?.heard ?? []
  }

  /** What is asked now; "" = nothing, for it was answered or nobody needs to look. */
  get question(): string {
    const { hand } = this
    if (!hand || hand.answer !== null || !hand.isReady) return ''
    const { asks, chapter } = hand.step
    if (asks !== '') return asks
    const { heard } = hand
    // What is pressed may come to nothing: then nobody says so.
    if (chapter === 'hands' && hand.deedAt === null && heard.some(h => h.state === 'waiting'))
      return 'Did it follow, though nothing is heard?'
    if (chapter === 'links' || !heard.some(h => h.state === 'not heard')) return ''
    if (chapter !== 'boards') return 'Is it so, as far as you can see?'
    return heard.every(h => h.state === 'not heard') ? 'Was it written from this revision?' : ''
  }

  /** Somebody has to say that it may be switched now. */
  get waitsForReady(): boolean {
    return this.hand !== null && !this.hand.isReady
  }

  /** The first that has no result, from `after` on; null = none is left. */
  next(after: string | null = null): Step | null {
    const from = this.steps.findIndex(s => s.id === after) + 1
    const turned = [...this.steps.slice(from), ...this.steps.slice(0, from)]
    const open = (s: Step) => !this.results.has(s.id)
    const put = (s: Step) => this.results.get(s.id)?.state === 'later'
    return turned.find(open) ?? turned.find(put) ?? null
  }

  begin(stepId: string, now: number): void {
    const step = this.steps.find(s => s.id === stepId)
    if (!step) return
    this.hand = {
      step,
      beganAt: now,
      deedAt: null,
      isReady: !this.wantsEyes(step),
      preparedAt: null,
      heard: step.expects.map(e => ({ words: this.words(e), state: 'waiting', ms: null })),
      heldAt: step.expects.map(() => null),
      restarts: new Map(this.around.links().map(l => [l.link.id, l.restarts])),
      helloAt: now,
      answer: null,
      otherId: null,
    }
    for (const e of step.expects) if (e.kind === 'print') this.around.hello(e.linkId)
    // What was asked may be answered at once, and be all that was waited for.
    if (this.hand?.isReady) this.prepare(this.hand, now)
    this.look(now)
  }

  /** Whoever is to see it looks, and stands clear. */
  ready(now: number): void {
    const { hand } = this
    if (!hand || hand.isReady) return
    hand.isReady = true
    this.prepare(hand, now)
    this.look(now)
  }

  /** What Nolvi switches and somebody is to see, or may be hurt by. */
  private wantsEyes({ deed, watch, caution }: Step): boolean {
    return (
      deed !== null && this.link(deed.linkId)?.up === true && (watch !== null || caution !== '')
    )
  }

  answered(answer: Answer, otherId: string | null, now: number): void {
    const { hand } = this
    if (!hand) return
    hand.answer = answer
    hand.otherId = otherId
    // What was done is over by now.
    hand.deedAt ??= now
    if (answer === 'yes') this.look(now)
    else this.ends('differs')
  }

  put(state: 'later' | 'left out'): void {
    this.ends(state)
  }

  /** What came is looked at. */
  look(now: number): void {
    const { hand } = this
    if (!hand?.isReady) return
    if (hand.preparedAt !== null) {
      if (!this.isPrepared(hand) && now < hand.preparedAt) return
      hand.preparedAt = null
      this.does(hand, now)
    }
    hand.step.expects.forEach((e, i) => this.listen(hand, e, i, now))
    this.askAgain(hand, now)
    this.judge(hand)
  }

  /** A start is told by who is there alone, where no connection falls with the power. */
  private askAgain(hand: AtHand, now: number): void {
    const waits = hand.step.expects.filter(
      (e, i) => e.kind === 'started' && hand.heard[i]?.state === 'waiting',
    )
    if (!waits.length || now - hand.helloAt < HELLO_MS) return
    hand.helloAt = now
    for (const { linkId } of waits) if (this.link(linkId)?.up) this.around.hello(linkId)
  }

  /** When it wants to look again, ms; null = whenever something comes. */
  get due(): number | null {
    const { hand } = this
    if (!hand) return null
    const times = hand.step.expects.flatMap((e, i) =>
      hand.heard[i]?.state === 'waiting' ? [(hand.deedAt ?? Infinity) + e.withinMs] : [],
    )
    const isAsking = hand.step.expects.some(e => e.kind === 'started')
    const again = isAsking ? hand.helloAt + HELLO_MS : Infinity
    const due = Math.min(hand.preparedAt ?? Infinity, again, ...times)
    return Number.isFinite(due) ? due : null
  }

  private link(id: string): LiveLink | undefined {
    return this.around.links().find(l => l.link.id === id)
  }

  /** What a load is by what was said last; null = nobody said it. */
  private truth(loadId: string): string | null {
    return truthOf(this.around.links(), this.loadIndex(loadId))?.value ?? null
  }

  /** What is asked for already is left first, so that something moves. */
  private prepare(hand: AtHand, now: number): void {
    const { deed } = hand.step
    if (!deed || !this.link(deed.linkId)?.up) {
      if (!hand.step.expects.some(e => e.kind === 'says' || e.kind === 'shows')) hand.deedAt = now
      return
    }
    if (this.truth(deed.loadId) !== deed.want) return this.does(hand, now)
    const { output } = loadOf(this.design, deed.loadId)
    const values = valuesOf(output)
    const rest = restOf(output)
    const far = isOpposed(output) ? values[1] : values.at(-1)
    const other = deed.want === rest ? far : rest
    if (other === undefined || other === deed.want) return this.does(hand, now)
    this.around.press(deed.linkId, deed.loadId, other)
    hand.preparedAt = now + PREPARE_MS + worstWayMs(linkOf(this.design, deed.linkId))
  }

  private isPrepared({ step: { deed } }: AtHand): boolean {
    return deed !== null && this.truth(deed.loadId) !== deed.want
  }

  private does(hand: AtHand, now: number): void {
    const { deed } = hand.step
    hand.deedAt = now
    hand.beganAt = now
    if (deed) this.around.press(deed.linkId, deed.loadId, deed.want)
  }

  private listen(hand: AtHand, expected: Expected, i: number, now: number): void {
    const heard = hand.heard[i]
    if (!heard || heard.state === 'held') return
    const live = this.link(expected.linkId)
    if (!live && expected.kind !== 'up') {
      heard.state = 'not heard'
      return
    }
    const at = live ? this.heldAt(hand, expected, i, live, now) : null
    if (at !== null) {
      hand.heldAt[i] = at
      // A person's deed is dated to its first sign.
      hand.deedAt ??= at
      heard.state = 'held'
      heard.ms = isMeasured(expected) ? at - hand.deedAt : null
      if (expected.kind === 'started') this.around.ask(expected.linkId)
    } else if (hand.deedAt !== null && now - hand.deedAt > expected.withinMs) heard.state = 'late'
    else if (heard.state === 'not heard') heard.state = 'waiting'
  }

  /** When it was so, ms; null = it is not yet. */
  private heldAt(
    hand: AtHand,
    expected: Expected,
    i: number,
    live: LiveLink,
    now: number,
  ): number | null {
    const from = this.after(hand, expected, i)
    if (from === null) return null
    switch (expected.kind) {
      case 'up':
        return live.up && (from === hand.beganAt || (live.changedAt ?? 0) >= from) ? now : null
      case 'down':
        return !live.up ? (live.changedAt ?? now) : null
      case 'print':
        return live.hello?.fingerprint === this.print ? now : null
      case 'started':
        if (live.restarts <= (hand.restarts.get(expected.linkId) ?? 0)) return null
        // What it said as it came back counts, though it came before who is there was answered.
        return (live.changedAt ?? 0) >= from ? live.changedAt : (live.hello?.atMs ?? now)
      case 'reading':
        return saidSince(live.readings[this.sensorIndex(expected.sensorId)], null, from)
      case 'says':
        return saidSince(live.says[this.loadIndex(expected.loadId)], expected.value, from)
      case 'shows':
        return this.shownAt(hand, expected, live, now)
    }
  }

  private shownAt(
    hand: AtHand,
    expected: Extract<Expected, { kind: 'shows' }>,
    live: LiveLink,
    now: number,
  ): number | null {
    const load = this.loadIndex(expected.loadId)
    const showing = live.showing(expected.surfaceId, load)?.shown
    const value = expected.value ?? this.truth(expected.loadId)
    // By hand nothing has happened before somebody said so.
    if (hand.deedAt === null || showing === undefined || showing !== value) return null
    return Math.max(live.says[load]?.atMs ?? now, hand.deedAt)
  }

  /** From when on it counts, ms: after what has to come before it on its link; null = not yet. */
  private after(hand: AtHand, expected: Expected, i: number): number | null {
    let from = hand.beganAt
    for (const [j, before] of hand.step.expects.slice(0, i).entries()) {
      const leads = before.kind === 'down' || before.kind === 'started' || before.kind === 'up'
      if (before.linkId !== expected.linkId || !leads) continue
      const at = hand.heldAt[j] ?? null
      if (at === null) return null
      from = Math.max(from, at)
    }
    return from
  }

  private sensorIndex(sensorId: string): number {
    return this.design.sensors.findIndex(s => s.id === sensorId)
  }

  private loadIndex(loadId: string): number {
    return this.design.loads.findIndex(l => l.id === loadId)
  }

  /** Ends the step where all is known. */
  private judge(hand: AtHand): void {
    const states = hand.heard.map(h => h.state)
    const isOld = hand.step.expects.some(e => {
      const hello = e.kind === 'print' ? this.link(e.linkId)?.hello : null
      return hello ? hello.fingerprint !== this.print : false
    })
    // Who stands before it sees what no report tells: they are heard first.
    if (this.question !== '') return
    if (states.includes('late') || isOld) return this.ends('differs')
    if (states.includes('waiting') || (!hand.step.expects.length && hand.answer === null)) return
    this.ends('passed')
  }

  private ends(state: ResultState): void {
    const { hand } = this
    if (!hand) return
    const difference: Difference = {
      design: this.design,
      step: hand.step,
      heard: hand.heard,
      answer: hand.answer,
      otherId: hand.otherId,
      links: this.around.links(),
      prints: this.around.prints(),
      results: this.results,
    }
    this.results.set(hand.step.id, {
      stepId: hand.step.id,
      state,
      heard: hand.heard,
      answer: hand.answer,
      otherId: hand.otherId,
      cause: state === 'differs' ? likelyCause(difference) : '',
      at: this.around.date(),
    })
    this.hand = null
    this.around.ended?.(hand.step.id)
  }

  private words(e: Expected): string {
    const { name } = linkOf(this.design, e.linkId)
    switch (e.kind) {
      case 'up':
        return `${name} is connected`
      case 'down':
        return `${name} is lost`
      case 'print':
        return `${name}: the board has table ${this.print}`
      case 'started':
        return `${name}: the board says that it started anew`
      case 'reading':
        return `${name} tells ${this.design.sensors.find(s => s.id === e.sensorId)?.name ?? ''}`
      case 'says':
        return `${name} says ${this.valueWords(e.loadId, e.value)}`
      case 'shows': {
        const surface = this.design.surfaces.find(s => s.id === e.surfaceId)
        return `${surface?.name ?? ''} shows ${this.valueWords(e.loadId, e.value)}`
      }
    }
  }

  private valueWords(loadId: string, value: string | null): string {
    const { name, output } = loadOf(this.design, loadId)
    return value === null ? `what ${name} is now` : `${name} ${valueWords(output, value)}`
  }
}

/** When a value was told, any where `value` is null, from a moment on; null = not yet. */
function saidSince(
  told: Told | null | undefined,
  value: string | null,
  from: number,
): number | null {
  if (!told || told.atMs < from) return null
  return value === null || told.value === value ? told.atMs : null
}

function isMeasured(e: Expected): boolean {
  return e.kind === 'says' || e.kind === 'shows'
}
