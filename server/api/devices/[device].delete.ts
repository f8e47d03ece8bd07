import { withdrawDevice } from '../../db/devices'

/** Takes the key from a device, at once. */
export default defineEventHandler(async event => {
  const id = numberParam(getRouterParam(event, 'device'))
  const db = await useStore()
  if (id === null || !(await withdrawDevice(db, id))) throw refuse(404, 'There is no such device')
  await readKeys(db)
  setResponseStatus(event, 204)
  return null
})
