import { rawDesign } from '../../../db/designs'

/**
 * The document as it is stored, also one that this Nolvi cannot read: so that it can be taken
 * elsewhere, or mended by hand.
 */
export default defineEventHandler(async event => {
  const id = designParam(event)
  const document = await rawDesign(await useStore(), id)
  if (document === null) throw notFound(id)
  setHeader(event, 'content-disposition', `attachment; filename="${id}.json"`)
  return document
})
