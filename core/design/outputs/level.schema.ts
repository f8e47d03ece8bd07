import { z } from 'zod'
import { activeLevel, LIMITS, ms, pin, remembers, risesFromRest } from '../shapes'

export const levelSchema = z.strictObject({
  kind: z.literal('level'),
  pin,
  activeLevel,
  drive: z.enum(['pwm', 'dimmer']),
  ...remembers,
  stops: z
    .array(z.number().int().min(0).max(100))
    .min(2)
    .max(LIMITS.values)
    .refine(risesFromRest, 'levels start at 0 and go up')
    .describe('Named levels: with codes and keys of their own, %'),
  step: z
    .number()
    .int()
    .min(1)
    .max(50)
    .nullable()
    .describe('A number may ask for levels between the stops in steps of this, %; null = for none'),
  rampMs: ms(1000).describe('Time for one per cent of change, ms; 0 = at once'),
  minimum: z.number().int().min(0).max(100).describe('Least level at which the load works, %'),
  below: z.enum(['off', 'minimum']).describe('What a level below the minimum counts as'),
})
