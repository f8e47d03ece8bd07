/** What several kinds of sensors have. */
import { z } from 'zod'
import { id, name, plainText } from '../shapes'

export const raw = z.number().int().min(0).max(16_777_215)
export const reading = {
  unit: plainText(8).describe('Unit of the value'),
  calibration: z
    .strictObject({ raw1: raw, value1: z.number(), raw2: raw, value2: z.number() })
    .nullable()
    .describe('Two readings whose true values are known; null = not calibrated'),
}
export const sensorBase = { id, name, controllerId: id }
export const lead = { leadMeters: z.number().min(0).max(500) }
