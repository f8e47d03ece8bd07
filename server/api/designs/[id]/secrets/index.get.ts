import { fittingSecrets } from '../../../../../core/messages/secrets'
import { secretDates, secretsOf } from '../../../../db/secrets'

/** Which links have a secret, and since when. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const { db, vault } = await theStore()
  // One that was kept for another way of proving does not count.
  const fit = fittingSecrets(design.links, await secretsOf(db, vault, design.id))
  return Object.fromEntries(
    Object.entries(await secretDates(db, design.id)).filter(([id]) => id in fit),
  )
})
