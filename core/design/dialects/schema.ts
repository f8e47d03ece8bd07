/** A dialect as it stands in the document: how the messages of a link are made of bytes. */
import { z } from 'zod'
import { codesSchema } from './codes.schema'
import { jsonSchema } from './json.schema'
import { linesSchema } from './lines.schema'
import { packedSchema } from './packed.schema'
import { pairsSchema } from './pairs.schema'

export const dialectSchema = z.discriminatedUnion('kind', [
  codesSchema,
  linesSchema,
  pairsSchema,
  jsonSchema,
  packedSchema,
])
export type Dialect = z.infer<typeof dialectSchema>
export type DialectKind = Dialect['kind']
export type DialectOf<K extends DialectKind> = Extract<Dialect, { kind: K }>
