import { z } from 'zod'
import { activeLevel, ms, pin } from '../shapes'

export const heldSchema = z.strictObject({
  kind: z.literal('held'),
  pin,
  activeLevel,
  timeoutMs: ms(60_000)
    .min(100)
    .describe('On only while a keep-alive comes at least this often, ms'),
})
