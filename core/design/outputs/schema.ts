/** An output as it stands in the document: one of its kinds. */
import { z } from 'zod'
import { choiceSchema } from './choice.schema'
import { followerSchema } from './follower.schema'
import { heldSchema } from './held.schema'
import { levelSchema } from './level.schema'
import { opposedSchema } from './opposed.schema'
import { pulsedSchema } from './pulsed.schema'
import { switchedSchema } from './switched.schema'

export const outputSchema = z.discriminatedUnion('kind', [
  switchedSchema,
  pulsedSchema,
  heldSchema,
  opposedSchema,
  levelSchema,
  followerSchema,
  choiceSchema,
])
export type Output = z.infer<typeof outputSchema>
export type OutputKind = Output['kind']
export type OutputOf<K extends OutputKind> = Extract<Output, { kind: K }>
