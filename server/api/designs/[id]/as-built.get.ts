import { asBuilt } from '../../../../core/sides/as-built'
import { listRevisions } from '../../../db/designs'
import { boardRecords } from '../../../db/records'

/** One page of what stands in the house, to print. */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const db = await useStore()
  const [records, changes] = await Promise.all([
    boardRecords(db, design.id),
    listRevisions(db, design.id, { limit: 200 }),
  ])
  setHeader(event, 'content-type', 'text/html; charset=utf-8')
  setHeader(event, 'content-security-policy', 'sandbox allow-modals')
  return asBuilt({ design, revision, records, changes })
})
