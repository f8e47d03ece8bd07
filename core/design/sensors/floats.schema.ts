import { z } from 'zod'
import { pin, plainText } from '../shapes'
import { lead, sensorBase } from './shapes'

export const floatsSchema = z.strictObject({
  kind: z.literal('floats'),
  ...sensorBase,
  floats: z
    .array(
      z.strictObject({
        pin,
        level: z.number().min(0).max(1e6).describe('Level at which it closes'),
      }),
    )
    .min(1)
    .max(8)
    .describe('From the lowest up'),
  unit: plainText(8),
  ...lead,
})
