import { setDeleted } from '../../../db/designs'

export default defineEventHandler(async (event) => {
  const id = getRouterParam(event, 'id') ?? ''
  if (!await setDeleted(await useStore(), id, false)) throw notFound(id)
  return storedDesign(event)
})
