import { scriptSchema } from '../../../../core/bench/script'

/**
 * Runs a script on the bench of one controller (`?controller=`, else the first); answers with the
 * trace, how long each surface was wrong, ms, and how each expectation of the script was met.
 */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const script = await readAs(event, scriptSchema, 'This is not a bench script')
  const { controller } = getQuery(event)
  const controllerId =
    typeof controller === 'string' ? controller : (design.controllers[0]?.id ?? '')
  if (!design.controllers.some(c => c.id === controllerId))
    throw refuse(400, 'There is no such controller', [
      { path: '', message: `no controller "${printable(controllerId)}" in this design` },
    ])
  return workJson(event, 'bench', { design, controllerId, script: script })
})
