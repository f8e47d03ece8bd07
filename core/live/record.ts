/** What Live keeps in the log: times that were measured, and notes. */
import { z } from 'zod'

const ms = z.number().min(0).max(600_000)
const base = {
  revision: z.number().int().min(1),
  title: z.string().min(1).max(200),
}

export const measuredRunSchema = z.strictObject({
  kind: z.literal('measured'),
  ...base,
  linkId: z.string().max(64),
  count: z.number().int().min(0),
  lost: z.number().int().min(0),
  leastMs: ms,
  typicalMs: ms,
  p99Ms: ms,
})
export type MeasuredRun = z.infer<typeof measuredRunSchema>

/** Pictures of a note are kept as files are: in base64, so large at most, characters. */
const MOST_PICTURE = 250_000
export const noteSchema = z.strictObject({
  kind: z.literal('note'),
  ...base,
  text: z.string().min(1).max(4000),
  pictures: z
    .array(
      z
        .string()
        .max(MOST_PICTURE)
        .regex(
          /^data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/=]+$/,
          'a picture as PNG, JPEG or WebP',
        ),
    )
    .max(4),
})
export type Note = z.infer<typeof noteSchema>

/** A board that was tried against the design, as it is kept. */
export interface TriedRun {
  kind: 'tried'
  revision: number
  title: string
  messages: { passed: number; of: number }
  drills: { passed: number; of: number }
  failed: { words: string; found: string }[]
}
