import { z } from 'zod'
import { activeLevel, LIMITS, ms, pin, risesFromRest } from '../shapes'

export const followerSchema = z.strictObject({
  kind: z.literal('follower'),
  pin,
  reversePin: pin,
  activeLevel,
  positions: z
    .number()
    .int()
    .min(2)
    .max(LIMITS.positions)
    .describe('Positions of the knob that is imitated'),
  stops: z
    .array(z.number().int().min(0).max(LIMITS.positions))
    .min(2)
    .max(LIMITS.values)
    .refine(risesFromRest, 'positions start at 0 and go up')
    .nullable()
    .describe(
      'Named positions: with codes and keys of their own, a number asks for the others; null = all are named',
    ),
  pulseMs: ms(1000).min(1),
  gapMs: ms(1000).min(1),
  round: z.boolean().describe('The knob turns round without ends, so the shorter way is taken'),
})
