import { z } from 'zod'
import { pin } from '../shapes'
import { sensorBase } from './shapes'

export const twoAxisSchema = z.strictObject({
  kind: z.literal('two-axis'),
  ...sensorBase,
  pin,
  pinB: pin,
  degrees: z.number().min(-180).max(180).describe('It is mounted at this angle'),
})
