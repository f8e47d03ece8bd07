import { setDeleted } from '../../../db/designs'
import { clearDesk } from '../../../live/desks'
import { stopStandInsOf } from '../../../live/stand-ins'

/** Kept for 30 days; restored by POST on /restore. Its stand-ins end: nobody would find them. */
export default defineEventHandler(async event => {
  const id = designParam(event)
  if (!(await setDeleted(await useStore(), id, true))) throw notFound(id)
  clearDesk(id)
  await stopStandInsOf(id)
  setResponseStatus(event, 204)
  return null
})
