import { setDeleted } from '../../../db/designs'

export default defineEventHandler(async event => {
  const id = designParam(event)
  if (!(await setDeleted(await useStore(), id, false))) throw notFound(id)
  return storedDesign(event)
})
