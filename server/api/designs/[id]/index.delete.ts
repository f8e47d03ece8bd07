import { setDeleted } from '../../../db/designs'

/** Kept for 30 days; restored by POST on /restore. */
export default defineEventHandler(async event => {
  const id = designParam(event)
  if (!(await setDeleted(await useStore(), id, true))) throw notFound(id)
  setResponseStatus(event, 204)
  return null
})
