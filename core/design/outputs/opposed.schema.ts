import { z } from 'zod'
import { activeLevel, id, ms, pin } from '../shapes'

export const opposedSchema = z.strictObject({
  kind: z.literal('opposed'),
  pin,
  reversePin: pin,
  enablePin: pin.nullable().describe('Enable line of a stepper driver; null = not wired'),
  thirdPin: pin.nullable().describe('Third coil of a stepper without a driver of its own'),
  fourthPin: pin.nullable(),
  activeLevel,
  drive: z
    .enum(['relays', 'bridge', 'stepper', 'coils'])
    .describe(
      'Two relays, a bridge (lines: forward, reverse), a stepper driver (lines: step, direction), or the four coils of a stepper',
    ),
  stepHz: z
    .number()
    .int()
    .min(1)
    .max(10_000)
    .describe('Steps per second of a stepper; of coils in whole ms, at most 1000'),
  sequence: z
    .enum(['full', 'half'])
    .describe('Coils: two at a time, or one and two by turns, in half steps'),
  atRest: z
    .enum(['off', 'held'])
    .describe('Coils at rest: without current, or held where they stand'),
  deadTimeMs: ms(60_000).describe('Both lines rest this long between opposite directions, ms'),
  runLimitMs: ms(600_000).describe('A run ends after this long, ms; 0 = no limit'),
  forwardEnd: id.nullable().describe('Contact that is closed where forward ends; null = none'),
  reverseEnd: id.nullable(),
})
