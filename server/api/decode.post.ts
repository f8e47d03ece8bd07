import { z } from 'zod'
import { respond } from '../../core/controller/respond'
import { explain, typed } from '../../core/messages/explain'
import { maybeDesign } from '../db/designs'
import { speaksRoutes } from '../../core/design/links/traits'

const bodySchema = z.strictObject({
  designId: z.string().optional(),
  design: z.unknown().optional(),
  linkId: z.string(),
  text: z.string().max(4000),
})

/** Explains bytes or a route of a link, and tells what the controller would do and answer. */
export default defineEventHandler(async event => {
  const body = await readAs(event, bodySchema, 'This is not a request to decode')
  const { designId, linkId, text } = body
  const stored =
    designId === undefined || !isPlain(designId)
      ? null
      : await maybeDesign(await useStore(), designId)
  if (designId !== undefined && !stored) throw notFound(designId)
  const design = stored?.design ?? (await assertDesign(event, body.design, '/design'))
  const link = design.links.find(l => l.id === linkId)
  if (!link)
    throw refuse(400, 'There is no such link', [
      { path: '/linkId', message: `no link "${linkId}"` },
    ])
  const bytes = typed(link, text)
  if (!bytes.ok)
    throw refuse(400, 'This cannot be read as bytes', [{ path: '/text', message: bytes.message }])
  return {
    ...explain(design, link, speaksRoutes(link) ? text : bytes.text),
    ...respond(design, linkId, bytes.text),
  }
})
