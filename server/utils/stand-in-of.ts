import type { H3Event } from 'h3'
import { maybeStandIn, type StandIn } from '../live/stand-ins'

export function standInOf(event: H3Event): StandIn {
  const id = getRouterParam(event, 'standIn') ?? ''
  const standIn = maybeStandIn(getRouterParam(event, 'id') ?? '', id)
  if (!standIn) throw refuse(404, `No stand-in "${id}" is running`)
  return standIn
}
