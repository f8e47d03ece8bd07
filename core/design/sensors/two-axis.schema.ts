import { z } from 'zod'
import { asks, id, ms, pin } from '../shapes'
import { sensorBase } from './shapes'

const on = z.enum(['right', 'left', 'up', 'down', 'rest'])

export const twoAxisSchema = z.strictObject({
  kind: z.literal('two-axis'),
  ...sensorBase,
  pin,
  pinB: pin,
  degrees: z.number().min(-180).max(180).describe('It is mounted at this angle'),
  deadZone: z
    .number()
    .int()
    .min(1)
    .max(90)
    .describe('Pushed less far than this it is at rest, per cent of its way'),
  repeatMs: ms(10_000).describe('Held to one side it asks again this often, ms; 0 = once'),
  ways: z
    .array(
      z.union([
        z.strictObject({ on, loadId: id, asks }),
        z.strictObject({ on, sceneId: id }).describe('Asks for a scene'),
      ]),
    )
    .max(5)
    .describe('What it asks for, pushed to a side or let go'),
})
