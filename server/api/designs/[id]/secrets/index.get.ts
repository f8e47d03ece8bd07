import { fittingSecrets } from '../../../../../core/messages/secrets'
import { secretDates, secretsOf } from '../../../../db/secrets'

/** Which links have a secret, and since when; with `?reveal` the secrets themselves, for a build that is to hold them. */
export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const db = await useStore()
  // One that was kept for another way of proving does not count.
  const fit = fittingSecrets(design.links, await secretsOf(db, design.id))
  if (getQuery(event).reveal !== undefined) return fit
  return Object.fromEntries(Object.entries(await secretDates(db, design.id)).filter(([id]) => id in fit))
})
