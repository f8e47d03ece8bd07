import { z } from 'zod'
import { fittingSecrets } from '../../../../../core/messages/secrets'
import { secretsOf } from '../../../../db/secrets'

const bodySchema = z.strictObject({ confirm: z.literal(true), code: z.string().max(20).optional() })

/**
 * The secrets themselves, for a build that is to hold them: asked for once more by the person, and
 * over the network with the pairing code of the moment.
 */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const body = await readAs(event, bodySchema, 'Secrets are shown only when that is asked for', {
    path: '/confirm',
    message: 'send {"confirm": true}',
  })
  if (keys.guarded && !keys.confirms(body.code ?? ''))
    throw refuse(keys.pauseMs > 0 ? 429 : 403, 'Secrets need the pairing code of the moment', [
      {
        path: '/code',
        message:
          keys.pauseMs > 0
            ? `too many wrong codes: wait ${Math.ceil(keys.pauseMs / 1000)} s`
            : 'it stands in the terminal where Nolvi was started',
      },
    ])
  const { db, vault } = await theStore()
  return fittingSecrets(design.links, await secretsOf(db, vault, design.id))
})
