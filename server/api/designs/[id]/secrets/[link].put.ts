import { z } from 'zod'
import { secretTrouble } from '../../../../../core/messages/secrets'
import { setSecret } from '../../../../db/secrets'

const bodySchema = z.strictObject({
  value: z.string().max(100).refine(isPlain, 'text without NUL and half characters'),
})

export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const link = design.links.find(l => l.id === getRouterParam(event, 'link'))
  if (!link) throw refuse(404, 'There is no such link')
  const body = await readAs(event, bodySchema, 'A secret is a text', {
    path: '/value',
    message: 'send {"value": "..."}',
  })
  const trouble = secretTrouble(link, body.value)
  if (trouble)
    throw refuse(400, 'This cannot be a secret of that link', [
      { path: '/value', message: trouble },
    ])
  const { db, vault } = await theStore()
  await setSecret(db, vault, design.id, link.id, body.value)
  setResponseStatus(event, 204)
  return null
})
