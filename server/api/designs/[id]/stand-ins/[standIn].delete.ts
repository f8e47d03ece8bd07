import { stopStandIn } from '../../../../live/stand-ins'

export default defineEventHandler(async event => {
  await stopStandIn(standInOf(event))
  setResponseStatus(event, 204)
  return null
})
