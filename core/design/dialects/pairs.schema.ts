import { z } from 'zod'
import { terminator } from './terminator'

export const pairsSchema = z
  .strictObject({ kind: z.literal('pairs'), terminator })
  .describe('load=value')
