import { z } from 'zod'
import { saveDesign } from '../../../db/designs'

const bodySchema = z.strictObject({
  baseRevision: z.int32().min(1),
  design: z.unknown(),
  words: z
    .string()
    .max(2000)
    .refine(isPlain, 'text without NUL and half characters')
    .default('Changed'),
})

export default defineEventHandler(async event => {
  const id = designParam(event)
  const body = await readAs(event, bodySchema, 'The save is not complete')
  const design = await assertDesign(event, body.design, '/design')
  if (design.id !== id)
    throw refuse(400, 'The design belongs to another address', [
      { path: '/design/id', message: `it says "${design.id}", the address says "${id}"` },
    ])
  const saved = await saveDesign(await useStore(), id, body.baseRevision, design, body.words)
  if (saved.kind === 'missing') throw notFound(id)
  if (saved.kind === 'stale')
    throw refuse(
      409,
      'The stored revision is newer',
      [
        {
          path: '/baseRevision',
          message: `stored is revision ${saved.revision}, yours builds on ${body.baseRevision}`,
        },
      ],
      { revision: saved.revision },
    )
  return { revision: saved.revision, fingerprint: saved.fingerprint }
})
