import type { H3Event } from 'h3'
import type { Front } from '../live/front'
import { maybeStandIn } from '../live/stand-ins'

export function standInOf(event: H3Event): Front {
  const id = slugParam(event, 'standIn')
  const standIn = maybeStandIn(slugParam(event, 'id'), id)
  if (!standIn) throw refuse(404, `No stand-in "${id}" is running`)
  return standIn
}
