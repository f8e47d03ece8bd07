import { partOf } from '../../../../../core/design/part'
import { fittingSecrets } from '../../../../../core/messages/secrets'
import { whyNotHere } from '../../../../../core/sides/program/on-computer'
import { secretsOf } from '../../../../db/secrets'
import { canMake } from '../../../../live/maker'
import { startStandIn } from '../../../../live/stand-ins'

/**
 * Starts a stand-in of one controller of the stored revision on a port of its own; `?controller=`
 * names another than the first. With `?runs=program` its program is made and run instead.
 */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const { controller, runs = 'stand-in' } = getQuery(event)
  const controllerId = typeof controller === 'string' ? controller : design.controllers[0]?.id
  if (controllerId === undefined || !design.controllers.some(c => c.id === controllerId))
    throw refuse(400, 'There is no such controller', [
      { path: '', message: `no controller "${controllerId}" in this design` },
    ])
  if (runs !== 'stand-in' && runs !== 'program')
    throw refuse(400, 'A stand-in runs, or a program', [
      { path: '', message: `"${String(runs)}" is neither` },
    ])
  if (runs === 'program') {
    const part = partOf(design, controllerId)
    const name = part.controllers[0]?.name ?? controllerId
    const why = canMake() ? whyNotHere(part) : 'this computer has no compiler (g++ and make)'
    if (why !== null)
      throw refuse(409, `The program of ${name} cannot be run here`, [{ path: '', message: why }])
  }
  const { db, vault } = await theStore()
  const secrets = fittingSecrets(design.links, await secretsOf(db, vault, design.id))
  const info = await startStandIn({ design, revision, secrets, controllerId, runs }, keyGate)
  if (!info)
    throw refuse(429, 'Too many stand-ins are running', [
      { path: '', message: 'stop one of them first' },
    ])
  setResponseStatus(event, 201)
  return info
})
