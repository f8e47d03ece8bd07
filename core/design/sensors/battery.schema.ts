import { z } from 'zod'
import { pin, volts } from '../shapes'
import { sensorBase } from './shapes'

export const batterySchema = z
  .strictObject({
    kind: z.literal('battery'),
    ...sensorBase,
    pin,
    maxVolts: volts,
    emptyVolts: volts,
    upperOhms: z.number().min(10).max(1e8),
    lowerOhms: z.number().min(10).max(1e8),
  })
  .describe('Voltage of a battery through a divider')
