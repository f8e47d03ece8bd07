import { createDesign } from '../../db/designs'

/** Create or import: the body is the design document. An id that is taken gets a number. */
export default defineEventHandler(async (event) => {
  const design = assertDesign(await readJson(event))
  const stored = await createDesign(await useStore(), design, 'Taken in')
  setResponseStatus(event, 201)
  setHeader(event, 'location', `/api/designs/${stored.design.id}`)
  return stored
})
