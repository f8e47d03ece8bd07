/** What is kept of a run: its steps as they were, and what came of each. */
import { z } from 'zod'
import { ANSWERS } from './results'
import { CHAPTERS } from './steps'

const words = z.string().max(600)
const id = z.string().max(200)
const resultSchema = z.strictObject({
  stepId: id,
  state: z.enum(['passed', 'differs', 'later', 'left out']),
  heard: z
    .array(
      z.strictObject({
        words,
        state: z.enum(['waiting', 'held', 'late', 'not heard']),
        ms: z.number().nullable(),
      }),
    )
    .max(400),
  answer: z.enum(ANSWERS).nullable(),
  otherId: z.string().max(64).nullable(),
  cause: z.string().max(1200),
  at: z.string().max(40),
})

/** `steps`: in words, so that a record reads the same when the design is another. */
export const commissioningSchema = z.strictObject({
  kind: z.literal('commissioning'),
  revision: z.number().int().min(1),
  fingerprint: z.string().max(12),
  startedAt: z.string().max(40),
  steps: z
    .array(
      z.strictObject({ id, chapter: z.enum(CHAPTERS), about: words, does: words, asks: words }),
    )
    .max(4000),
  results: z.array(resultSchema).max(4000),
})
export type Commissioning = z.infer<typeof commissioningSchema>

/** A record as it is kept, as a run; null where it is none. */
export function commissioningIn(kept: {
  kind: string
  revision: number
  body: unknown
}): Commissioning | null {
  const { kind, revision, body } = kept
  return commissioningSchema.safeParse({ ...(body as object), kind, revision }).data ?? null
}

/** Steps that count: those that were gone through, and those that are still open. */
export function tally({ steps, results }: Pick<Commissioning, 'steps' | 'results'>): {
  passed: number
  differs: number
  open: number
  leftOut: number
  of: number
} {
  const count = (state: string) => results.filter(r => r.state === state).length
  const [passed, differs, leftOut] = [count('passed'), count('differs'), count('left out')]
  return {
    passed,
    differs,
    leftOut,
    of: steps.length,
    open: steps.length - passed - differs - leftOut,
  }
}
