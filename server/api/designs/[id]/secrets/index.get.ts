import { secretDates, secretsOf } from '../../../../db/secrets'

/** Which links have a secret, and since when; with `?reveal` the secrets themselves, for a build that is to hold them. */
export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const db = await useStore()
  return getQuery(event).reveal === undefined ? secretDates(db, design.id) : secretsOf(db, design.id)
})
