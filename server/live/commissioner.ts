/**
 * A commissioning run over the connections of a desk: what comes is looked at as it comes, every
 * result is kept at once, and what passed by itself is followed by the next step.
 */
import { fingerprint } from '../../core/design/fingerprint'
import type { Design } from '../../core/design/schema'
import type { Commissioning } from '../../core/live/commissioning/record'
import type { Answer } from '../../core/live/commissioning/results'
import { CommissioningRun } from '../../core/live/commissioning/run'
import { stepsOf } from '../../core/live/commissioning/steps'
import type { CommissioningView } from '../../core/live/view'
import type { Desk } from './desk'

/** What passed is seen for so long before the next begins, ms. */
const SEEN_MS = 900

export type Wish =
  | { do: 'begin'; stepId: string }
  | { do: 'next' | 'ready' | 'again' | 'later' | 'left out' | 'stop' }
  | { do: 'answer'; answer: Answer; otherId?: string | null | undefined }

export class Commissioner {
  readonly run: CommissioningRun
  readonly body: Commissioning
  private timer: NodeJS.Timeout | undefined
  private following: NodeJS.Timeout | undefined
  private last: string | null = null
  private keeping: Promise<unknown> = Promise.resolve()
  /** Why the last result is not kept; "" = it is. */
  private trouble = ''

  /** `keep` stores the run as it stands. `seenMs`: how long what passed is seen. */
  constructor(
    private readonly desk: Desk,
    design: Design,
    revision: number,
    before: Commissioning | null,
    private readonly keep: (body: Commissioning) => Promise<unknown>,
    private readonly seenMs = SEEN_MS,
  ) {
    const steps = stepsOf(design)
    const ids = new Set(steps.map(s => s.id))
    const kept = (before?.results ?? []).filter(r => ids.has(r.stepId))
    this.run = new CommissioningRun(design, steps, new Map(kept.map(r => [r.stepId, r])), {
      links: () => desk.links.map(c => c.live),
      press: (linkId, loadId, want) =>
        desk.byLink(linkId)?.does(now => desk.byLink(linkId)?.live.press(loadId, want, now)),
      hello: linkId =>
        desk.byLink(linkId)?.does(now => void desk.byLink(linkId)?.live.askHello(now)),
      ask: linkId => desk.byLink(linkId)?.does(now => desk.byLink(linkId)?.live.ask(now)),
      prints: () => desk.prints,
      date: () => new Date().toISOString(),
      ended: stepId => this.ended(stepId),
    })
    this.body = {
      kind: 'commissioning',
      revision,
      fingerprint: fingerprint(design),
      startedAt: before?.startedAt ?? new Date().toISOString(),
      steps: steps.map(({ id, chapter, about, does, asks }) => ({
        id,
        chapter,
        about,
        does,
        asks,
      })),
      results: kept,
    }
    desk.watchers.add(this.watch)
    this.follow(null)
  }

  close(): void {
    clearTimeout(this.timer)
    clearTimeout(this.following)
    this.desk.watchers.delete(this.watch)
  }

  view(): CommissioningView {
    const { run, body } = this
    return {
      revision: body.revision,
      fingerprint: body.fingerprint,
      startedAt: body.startedAt,
      steps: body.steps.map(({ id, chapter, about }) => ({
        id,
        chapter,
        about,
        state: run.results.get(id)?.state ?? null,
      })),
      current: run.current,
      headline: run.headline,
      heard: run.heard.map(h => ({ ...h })),
      question: run.question,
      waitsForReady: run.waitsForReady,
      last: this.last === null ? null : (run.results.get(this.last) ?? null),
      trouble: this.trouble,
    }
  }

  does(wish: Wish): void {
    const { now } = this.desk
    const { run } = this
    const at = run.current?.id ?? null
    clearTimeout(this.following)
    switch (wish.do) {
      case 'begin':
        this.last = null
        run.begin(wish.stepId, now)
        break
      case 'next':
        return this.follow(at ?? this.last)
      case 'again': {
        const again = at ?? this.last
        this.last = null
        if (again !== null) run.begin(again, now)
        break
      }
      case 'ready':
        run.ready(now)
        break
      case 'answer':
        run.answered(wish.answer, wish.otherId ?? null, now)
        break
      case 'later':
      case 'left out':
        run.put(wish.do)
        return this.follow(at)
      case 'stop':
        break
    }
    this.look()
  }

  private readonly watch = (): void => this.look()

  private look(): void {
    this.run.look(this.desk.now)
    clearTimeout(this.timer)
    const { due } = this.run
    if (due !== null)
      this.timer = setTimeout(this.watch, Math.max(5, due - this.desk.now + 1)).unref()
    this.desk.tellSoon()
  }

  /** A step has a result: it is kept, and where all is well the next follows. */
  private ended(stepId: string): void {
    this.last = stepId
    this.body.results = [...this.run.results.values()]
    const kept = structuredClone(this.body)
    this.keeping = this.keeping
      .then(() => this.keep(kept))
      .then(
        () => (this.trouble = ''),
        (error: Error) => (this.trouble = `This result is not kept yet: ${error.message}`),
      )
    if (this.run.results.get(stepId)?.state === 'passed') {
      clearTimeout(this.following)
      this.following = setTimeout(() => this.follow(stepId), this.seenMs).unref()
    }
  }

  private follow(after: string | null): void {
    const next = this.run.next(after)
    this.last = null
    if (next) this.run.begin(next.id, this.desk.now)
    this.look()
  }
}
