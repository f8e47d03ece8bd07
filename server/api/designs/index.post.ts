import { createDesign } from '../../db/designs'

/** Create or import: the body is the design document. An id that is taken gets a number. */
export default defineEventHandler(async event => {
  const design = await assertDesign(event, await readJson(event))
  const stored = await createDesign(await useStore(), design, 'Taken in')
  setResponseStatus(event, 201)
  setHeader(event, 'location', `/api/designs/${stored.design.id}`)
  // Told, so that nobody goes on with an address that is another design's.
  return stored.design.id === design.id
    ? stored
    : { ...stored, renamed: { from: design.id, to: stored.design.id } }
})
