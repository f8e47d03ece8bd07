import { z } from 'zod'
import { terminator } from './terminator'

export const jsonSchema = z
  .strictObject({ kind: z.literal('json'), terminator })
  .describe('A JSON object a line, with one load')
