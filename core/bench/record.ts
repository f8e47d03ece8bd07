/** What is kept of drills that were run: which revision, what was expected, what was found. */
import { z } from 'zod'
import { expectationSchema } from './script'

const words = z.string().max(400)
const held = z.strictObject({
  expectation: expectationSchema,
  words,
  held: z.boolean(),
  unsure: z.boolean(),
  found: words,
})
export const drillRecordSchema = z.strictObject({
  drillId: z.string().max(80),
  title: words,
  loadId: z.string().max(60),
  seed: z.number().int().min(0).max(0xffffffff),
  held: z.array(held).max(200),
  passed: z.boolean(),
  unsure: z.boolean(),
  events: z.number().int().min(0),
  wrong: z.array(z.strictObject({ surfaceId: z.string().max(60), ms: z.number().min(0) })).max(12),
})
export const drillsSchema = z.strictObject({
  revision: z.number().int().min(1),
  title: words,
  results: z.array(drillRecordSchema).min(1).max(2000),
})
export type DrillsRun = z.infer<typeof drillsSchema>
/** As it is listed. */
export interface KeptRecord {
  id: number
  revision: number
  kind: string
  title: string
  passed: number
  of: number
  createdAt: string
}
