/**
 * What takes long, by name: each takes plain data and gives the bytes of its answer, so that the
 * process that answers everybody else neither computes nor turns large results into text. Runs in a
 * worker (heavy.ts), under a budget of time and memory (pool.ts).
 */
import { Bench } from '../../core/bench/bench'
import { judged } from '../../core/bench/drills'
import type { BenchScript } from '../../core/bench/script'
import { wrongMs } from '../../core/bench/trace'
import { buildFiles, buildZip } from '../../core/sides/files'
import { check } from '../../core/checks/check'
import { VerdictCache } from '../../core/checks/verdicts'
import { farSurfaces } from '../../core/design/find'
import { fingerprint } from '../../core/design/fingerprint'
import { partOf } from '../../core/design/part'
import type { Design } from '../../core/design/schema'
import { validateDesign } from '../../core/design/validate'
import type { Bounds } from '../../core/proof/bounds'
import { checkedAgain } from '../../core/proof/certify'
import type { PromiseId } from '../../core/proof/promises'
import { proveAll } from '../../core/proof/prove'
import { Searched } from '../../core/proof/same'

/** A refusal that the asker can do something about. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

const cache = new VerdictCache()
const encoder = new TextEncoder()
const json = (value: unknown) => encoder.encode(JSON.stringify(value))

export const WORK = {
  /** Findings of a design; `revision` goes into the answer where it is stored. */
  check: ({ design, revision }: { design: Design; revision?: number }) =>
    json({
      ...(revision === undefined ? {} : { revision }),
      findings: check(design, cache).findings,
    }),

  /** Whether a value is a design: the design, or what is wrong with it. */
  validate: ({ value }: { value: unknown }) => json(validateDesign(value)),

  files: ({ design, revision }: { design: Design; revision: number }) =>
    json({
      revision,
      fingerprint: fingerprint(design),
      files: buildFiles(design).map(({ text, ...file }) => ({
        ...file,
        bytes: Buffer.byteLength(text),
      })),
    }),

  /** One file with its type, or null. */
  file: ({ design, name }: { design: Design; name: string }) =>
    json(buildFiles(design).find(f => f.name === name) ?? null),

  zip: ({ design }: { design: Design }) => buildZip(design),

  bench: ({
    design,
    controllerId,
    script: { seed, steps, fates, untilMs, expects },
  }: {
    design: Design
    controllerId: string
    script: BenchScript
  }) => {
    const part = partOf(design, controllerId)
    const bench = new Bench(part, seed, fates)
    const until = untilMs ?? steps.reduce((last, s) => Math.max(last, s.atMs), 0) + 5000
    try {
      bench.plan(steps)
      while (!bench.advance(until, 100_000)) {
        /* on */
      }
      const expected = (expects ?? []).map(e => judged(part, bench.trace, e))
      return json({
        untilMs: until,
        trace: bench.trace,
        expected,
        disagreements: farSurfaces(part)
          .flatMap(s =>
            part.loads.map(l => ({
              surfaceId: s.id,
              loadId: l.id,
              wrongMs: wrongMs(bench.trace, s.id, l.id, until),
            })),
          )
          .filter(d => d.wrongMs > 0),
      })
    } catch (error) {
      if (error instanceof RangeError) throw new Refused(400, error.message)
      throw error
    }
  },

  proof: ({
    design,
    revision,
    loadIds,
    promises,
    bounds,
    again,
  }: {
    design: Design
    revision: number
    loadIds: string[]
    promises: PromiseId[]
    bounds: Bounds
    again: boolean
  }) => {
    const searched = new Searched()
    const verdicts = loadIds.flatMap(id =>
      proveAll(design, id, bounds, { promises, searched }).map(v =>
        again ? { ...v, checked: checkedAgain(design, v) } : v,
      ),
    )
    return json({ revision, verdicts })
  },
} satisfies Record<string, (input: never) => Uint8Array>

export type Kind = keyof typeof WORK
export type Input<K extends Kind> = Parameters<(typeof WORK)[K]>[0]
export type Outcome =
  { bytes: Uint8Array } | { refused: { status: number; message: string } } | { failed: string }
