import { recordBody } from '../../../../db/records'

/** One record, whole. */
export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const body = await recordBody(await useStore(), design.id, Number(getRouterParam(event, 'n')) || 0)
  if (body === null) throw refuse(404, 'There is no such record', [{ path: '', message: 'the list of records tells which there are' }])
  return body
})
