import { z } from 'zod'
import { linkOf } from '../../../../../core/design/find'
import { plural } from '../../../../../core/units/format'
import { fittingSecrets } from '../../../../../core/messages/secrets'
import { keepTried } from '../../../../db/records'
import { secretsOf } from '../../../../db/secrets'
import { deskOf } from '../../../../live/desks'
import { Trier } from '../../../../live/trier'

const bodySchema = z.strictObject({ do: z.literal(['start', 'stop']) })

/**
 * Tries the board that is connected against the design: all that its links can say, and drills that
 * need no hands. It switches every load.
 */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const body = await readAs(event, bodySchema, 'Trials are started or stopped')
  const desk = deskOf(design)
  desk.trier?.close()
  desk.trier = null
  if (body.do === 'stop') {
    desk.tellSoon()
    return null
  }
  const up = desk.links.filter(c => c.live.up)
  if (!up.length)
    throw refuse(409, 'Nothing is connected', [
      { path: '', message: 'connect a link of the board first' },
    ])
  const { db, vault } = await theStore()
  const secrets = fittingSecrets(design.links, await secretsOf(db, vault, design.id))
  const over = up.map(c => linkOf(design, c.of.linkId).name).join(', ')
  desk.trier = new Trier(desk, design, secrets, async ({ messages, drills, failed }) => {
    const kept = failed.map(({ words, found }) => ({ words, found }))
    const title = `Board against the design, over ${over}: ${failed.length ? plural(failed.length, 'difference') : 'no difference'}`
    await keepTried(await useStore(), design.id, {
      kind: 'tried',
      revision,
      title,
      messages,
      drills,
      failed: kept,
    })
  })
  return desk.trier.view()
})
