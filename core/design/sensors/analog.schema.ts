import { z } from 'zod'
import { pin, volts } from '../shapes'
import { reading, sensorBase } from './shapes'

export const analogSchema = z.strictObject({
  kind: z.literal('analog'),
  ...sensorBase,
  pin,
  maxVolts: volts,
  divider: z
    .strictObject({
      upperOhms: z.number().min(10).max(1e8),
      lowerOhms: z.number().min(10).max(1e8),
    })
    .nullable(),
  ...reading,
})
