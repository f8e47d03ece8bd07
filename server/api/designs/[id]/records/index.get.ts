import { listRecords } from '../../../../db/records'

/** What was tried with the design, the newest first. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  return listRecords(await useStore(), design.id)
})
