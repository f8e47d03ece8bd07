import { z } from 'zod'
import { id, ms, pin } from '../shapes'
import { lead, sensorBase } from './shapes'

export const knobSchema = z.strictObject({
  kind: z.literal('knob'),
  ...sensorBase,
  pin,
  pinB: pin,
  loadId: id,
  detentsPerTurn: z.number().int().min(1).max(1000),
  countsPerDetent: z
    .union([z.literal(1), z.literal(2), z.literal(4)])
    .describe('Changes of the two lines from one detent to the next'),
  accelerated: z.boolean().describe('Turned fast, each detent counts twice'),
  debounceMs: ms(1000),
  ...lead,
})
