/**
 * The promises of one load, each with its verdict. Searches are exhaustive within their bounds; a
 * break comes with the shortest story, replayed on the bench. Runs in slices, so that a worker can
 * report, and stop with what is known by then.
 */
import { commanding, loadOf, showsState } from '../design/find'
import { partOfLoad } from '../design/part'
import type { Design, Load, FarSurface } from '../design/schema'
import { assumptionsOf } from './assumptions'
import { bootPart } from './parts/boot'
import { DEFAULT_BOUNDS, type Bounds } from './bounds'
import { neighboursOf, project } from './project'
import { notAsked, PROMISE_IDS, type PromiseId } from './promises'
import { Searched } from './same'
import { infraredParts, strangerPart } from './parts/strangers'
import { trialPart } from './parts/trials'
import { isGood, type Assumption, type Part, type Verdict } from './verdict'
import type { Context } from './parts/context'
import { SearchPart } from './parts/search'
import { farScenes } from './parts/far-scenes'
import { inPart, isOutdone, mostUnderWay, summary, underWayAssumed } from './summary'
import { outagePart } from './parts/outages'
import { seated } from '../design/seats'
import { first } from '../units/lists'

export type { Assumption, PromiseState, SurfaceVerdict, Verdict } from './verdict'

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
    given: Design,
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
    const whole = seated(given)
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
    return this.verdictOf(first(this.promises))
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

function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => (made ??= { value: make() }).value
}

/** Run a whole search at once. */
export function prove(
  design: Design,
  loadId: string,
  bounds: Bounds = DEFAULT_BOUNDS,
  options: ProofOptions = {},
): Verdict {
  return first(proveAll(design, loadId, bounds, { promises: ['P1'], ...options }))
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
