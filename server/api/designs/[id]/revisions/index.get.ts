import { listRevisions } from '../../../../db/designs'

const MOST = 1000

/** The newest first; `?before=<number>&limit=<count>` gives those that follow in pages. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const { before, limit } = getQuery(event)
  const page = {
    before: before === undefined ? null : numberParam(before),
    limit: limit === undefined ? MOST : numberParam(limit),
  }
  if (before !== undefined && page.before === null)
    throw refuse(400, 'There is no such page', [
      { path: '', message: 'before is the number of a revision' },
    ])
  if (page.limit === null || page.limit > MOST)
    throw refuse(400, 'There is no such page', [{ path: '', message: `limit is 1 to ${MOST}` }])
  return listRevisions(await useStore(), design.id, { before: page.before, limit: page.limit })
})
