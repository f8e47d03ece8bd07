import { z } from 'zod'
import { terminator } from './terminator'

export const linesSchema = z
  .strictObject({
    kind: z.literal('lines'),
    template: z.string().max(60).describe('How lines are made: "{load} {value}"'),
    terminator,
  })
  .describe('Lines of text')
