import { z } from 'zod'
import { pin } from '../shapes'
import { lead, sensorBase } from './shapes'

export const thermometerSchema = z
  .strictObject({
    kind: z.literal('thermometer'),
    ...sensorBase,
    pin,
    pullOhms: z.number().min(100).max(1e6),
    ...lead,
  })
  .describe('Digital thermometer on one line')
