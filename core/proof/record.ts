/**
 * What is kept of a proof: which revision, what was found within which bounds, and the stories, so
 * that they can be played again.
 */
import { z } from 'zod'
import { scriptSchema } from '../bench/script'
import { PROMISE_IDS, type PromiseId } from './promises'
import type { Verdict } from './prove'

const words = z.string().max(400)
const story = z.strictObject({
  surfaceId: z.string().max(60).nullable(),
  ending: words,
  steps: z.array(words).max(80),
  replayed: z.boolean(),
  script: scriptSchema,
})
export const proofRunSchema = z.strictObject({
  kind: z.literal('proof'),
  revision: z.number().int().min(1),
  title: words,
  results: z
    .array(
      z.strictObject({
        promise: z.enum(PROMISE_IDS as unknown as [PromiseId, ...PromiseId[]]),
        loadId: z.string().max(60),
        result: z.string().max(20),
        reason: z.string().max(2000),
        situations: z.number().int().min(0),
        bounds: z.record(z.string(), z.number()),
        assumptions: z
          .array(z.strictObject({ words, open: z.boolean() }))
          .max(40)
          .optional()
          .describe('What was left out or taken for granted; records of before have none'),
        underWay: z
          .strictObject({ most: z.number().int().min(0), suffices: z.boolean() })
          .nullable()
          .optional()
          .describe(
            'Messages under way at once up to which it was searched, and whether more would add anything; records of before have none',
          ),
        checked: z
          .array(words)
          .max(20)
          .optional()
          .describe('What a separate checker went through, where that was asked for'),
        stories: z.array(story).max(20),
      }),
    )
    .min(1)
    .max(1000),
})
export type ProofRun = z.infer<typeof proofRunSchema>

/** What is kept of verdicts in the log. */
export function keptOf(verdicts: readonly Verdict[]): ProofRun['results'] {
  return verdicts
    .filter(v => v.result !== 'not asked')
    .map(v => ({
      promise: v.promise,
      loadId: v.loadId,
      result: v.result,
      reason: v.reason.slice(0, 2000),
      situations: v.situations,
      bounds: { ...v.bounds },
      assumptions: v.assumptions.map(a => ({ words: a.words.slice(0, 400), open: a.open })),
      underWay: v.underWay,
      stories: v.surfaces.flatMap(s =>
        s.story
          ? [
              {
                surfaceId: s.story.surfaceId,
                ending: s.story.ending.slice(0, 400),
                steps: s.story.steps.map(x => x.words.slice(0, 400)),
                replayed: s.story.replayed,
                script: s.story.script,
              },
            ]
          : [],
      ),
    }))
}
