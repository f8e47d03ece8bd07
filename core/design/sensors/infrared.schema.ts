import { z } from 'zod'
import { asks, id, pin } from '../shapes'
import { sensorBase } from './shapes'

export const infraredSchema = z.strictObject({
  kind: z.literal('infrared'),
  ...sensorBase,
  pin,
  keys: z
    .array(
      z.strictObject({
        address: z.number().int().min(0).max(0xffff),
        command: z.number().int().min(0).max(0xffff),
        loadId: id,
        asks,
      }),
    )
    .max(60)
    .describe('Keys that were learnt'),
})
