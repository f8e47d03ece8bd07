import { commissioningIn } from '../../../../../../core/live/commissioning/record'
import { commissionedSheet } from '../../../../../../core/sides/commissioned-sheet'
import { keptRecord } from '../../../../../db/records'

/** The record of a commissioning as a sheet to print. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const n = numberParam(getRouterParam(event, 'n'))
  const kept = n === null ? null : await keptRecord(await useStore(), design.id, n)
  const run = kept ? commissioningIn(kept) : null
  if (!kept || !run) throw refuse(404, 'There is no such record of a commissioning')
  const day = kept.createdAt.toISOString().slice(0, 10)
  setHeader(event, 'content-type', 'text/html; charset=utf-8')
  setHeader(event, 'content-security-policy', 'sandbox allow-modals')
  return commissionedSheet(design, run, day)
})
