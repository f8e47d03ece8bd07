import { lastCommissioning } from '../../../../db/records'
import { tally } from '../../../../../core/live/commissioning/record'

/** The run that was begun last, as it is kept; null where there was none. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const last = await lastCommissioning(await useStore(), design.id)
  if (!last) return { last: null }
  const { id, run } = last
  const { revision, fingerprint, startedAt } = run
  return { last: { id, revision, fingerprint, startedAt, ...tally(run) } }
})
