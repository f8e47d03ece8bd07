import { startStandIn } from '../../../../live/stand-ins'

/** Starts a stand-in of the stored revision on a port of its own. */
export default defineEventHandler(async (event) => {
  const { design, revision } = await storedDesign(event)
  const info = await startStandIn(design, revision)
  if (!info) throw refuse(429, 'Too many stand-ins are running', [{ path: '', message: 'stop one of them first' }])
  setResponseStatus(event, 201)
  return info
})
