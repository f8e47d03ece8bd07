import { z } from 'zod'
import { activeLevel, LIMITS, ms, pin } from '../shapes'

export const followerSchema = z.strictObject({
  kind: z.literal('follower'),
  pin,
  reversePin: pin,
  activeLevel,
  positions: z
    .number()
    .int()
    .min(2)
    .max(LIMITS.values)
    .describe('Positions of the knob that is imitated'),
  pulseMs: ms(1000).min(1),
  gapMs: ms(1000).min(1),
  round: z.boolean().describe('The knob turns round without ends, so the shorter way is taken'),
})
