import { z } from 'zod'

export const codesSchema = z
  .strictObject({ kind: z.literal('codes') })
  .describe('Short codes that follow one another without ends')
