import { z } from 'zod'
import { activeLevel, id, ms, pin } from '../shapes'

export const opposedSchema = z.strictObject({
  kind: z.literal('opposed'),
  pin,
  reversePin: pin,
  enablePin: pin.nullable().describe('Enable line of a stepper driver; null = not wired'),
  activeLevel,
  drive: z
    .enum(['relays', 'bridge', 'stepper'])
    .describe(
      'Two relays, a bridge (lines: forward, reverse), or a stepper driver (lines: step, direction)',
    ),
  stepHz: z.number().int().min(1).max(10_000).describe('Steps per second of a stepper'),
  deadTimeMs: ms(60_000).describe('Both lines rest this long between opposite directions, ms'),
  runLimitMs: ms(600_000).describe('A run ends after this long, ms; 0 = no limit'),
  forwardEnd: id.nullable().describe('Contact that is closed where forward ends; null = none'),
  reverseEnd: id.nullable(),
})
