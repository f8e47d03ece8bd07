import { z } from 'zod'
import { activeLevel, ms, pin } from '../shapes'

export const pulsedSchema = z.strictObject({
  kind: z.literal('pulsed'),
  pin,
  activeLevel,
  lengthMs: ms(600_000).min(10).describe('Energised this long after a trigger, ms'),
  again: z
    .enum(['restart', 'ignore'])
    .describe('A trigger during the pulse restarts it or is ignored'),
})
