import { recordBody } from '../../../../db/records'

/** One record, whole. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const n = numberParam(getRouterParam(event, 'n'))
  const body = n === null ? null : await recordBody(await useStore(), design.id, n)
  if (body === null)
    throw refuse(404, 'There is no such record', [
      { path: '', message: 'the list of records tells which there are' },
    ])
  return body
})
