import { z } from 'zod'
import { pin } from '../shapes'
import { sensorBase } from './shapes'

export const thermistorSchema = z.strictObject({
  kind: z.literal('thermistor'),
  ...sensorBase,
  pin,
  ohmsAt25: z.number().min(10).max(1e7),
  beta: z.number().min(1000).max(10_000),
  seriesOhms: z.number().min(100).max(1e7),
  celsius: z.number().min(-55).max(300).describe('Temperature that matters most'),
})
