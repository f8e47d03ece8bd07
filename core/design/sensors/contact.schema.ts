import { z } from 'zod'
import { ms, pin } from '../shapes'
import { lead, sensorBase } from './shapes'

export const contactSchema = z
  .strictObject({
    kind: z.literal('contact'),
    ...sensorBase,
    pin,
    debounceMs: ms(1000),
    pullOhms: z.number().min(100).max(1e6).nullable(),
    ...lead,
  })
  .describe('Door, tilt or limit contact to ground')
