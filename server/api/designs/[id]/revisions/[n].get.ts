import { maybeRevision } from '../../../../db/designs'

export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const n = Number(getRouterParam(event, 'n'))
  const revision = Number.isInteger(n) ? await maybeRevision(await useStore(), design.id, n) : null
  if (!revision) throw refuse(404, `There is no revision ${getRouterParam(event, 'n')}`)
  return revision
})
