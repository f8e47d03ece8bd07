import { z } from 'zod'
import { pointer } from '../../../../core/design/validate'
import { saveDesign } from '../../../db/designs'

const bodySchema = z.strictObject({ baseRevision: z.int32().min(1), design: z.unknown(), words: z.string().max(2000).refine(isPlain, 'text without NUL and half characters').default('Changed') })

export default defineEventHandler(async (event) => {
  const id = designParam(event)
  const body = bodySchema.safeParse(await readJson(event))
  if (!body.success) throw refuse(400, 'The save is not complete', body.error.issues.map(i => ({ path: pointer(i.path), message: i.message })))
  const design = await assertDesign(event, body.data.design, '/design')
  if (design.id !== id) throw refuse(400, 'The design belongs to another address', [{ path: '/design/id', message: `it says "${design.id}", the address says "${id}"` }])
  const saved = await saveDesign(await useStore(), id, body.data.baseRevision, design, body.data.words)
  if (saved.kind === 'missing') throw notFound(id)
  if (saved.kind === 'stale') throw refuse(409, 'The stored revision is newer', [{ path: '/baseRevision', message: `stored is revision ${saved.revision}, yours builds on ${body.data.baseRevision}` }], { revision: saved.revision })
  return { revision: saved.revision, fingerprint: saved.fingerprint }
})
