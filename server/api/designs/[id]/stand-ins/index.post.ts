import { fittingSecrets } from '../../../../../core/messages/secrets'
import { secretsOf } from '../../../../db/secrets'
import { startStandIn } from '../../../../live/stand-ins'

/**
 * Starts a stand-in of one controller of the stored revision on a port of its own; `?controller=`
 * names another than the first.
 */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const { controller } = getQuery(event)
  const controllerId = typeof controller === 'string' ? controller : undefined
  if (controllerId !== undefined && !design.controllers.some(c => c.id === controllerId))
    throw refuse(400, 'There is no such controller', [
      { path: '', message: `no controller "${controllerId}" in this design` },
    ])
  const { db, vault } = await theStore()
  const info = await startStandIn(
    design,
    revision,
    fittingSecrets(design.links, await secretsOf(db, vault, design.id)),
    keyGate,
    controllerId,
  )
  if (!info)
    throw refuse(429, 'Too many stand-ins are running', [
      { path: '', message: 'stop one of them first' },
    ])
  setResponseStatus(event, 201)
  return info
})
