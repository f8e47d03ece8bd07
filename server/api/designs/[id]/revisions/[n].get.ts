import { maybeRevision } from '../../../../db/designs'

export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const n = numberParam(getRouterParam(event, 'n'))
  const revision = n === null ? null : await maybeRevision(await useStore(), design.id, n)
  if (!revision)
    throw refuse(404, `There is no revision ${printable(getRouterParam(event, 'n') ?? '')}`, [
      { path: '', message: 'it never was, or it is old and was thinned out' },
    ])
  return revision
})
