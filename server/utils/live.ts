/** What the routes of live connections share. */
import type { H3Event } from 'h3'
import type { Connection } from '../live/connection'
import type { Desk } from '../live/desk'
import { maybeDesk } from '../live/desks'

/** The connection that the address names, or a refusal. */
export function connectionOf(event: H3Event): { desk: Desk; connection: Connection } {
  const desk = maybeDesk(designParam(event))
  const connection = desk?.maybe(slugParam(event, 'connection')) ?? null
  if (!desk || !connection)
    throw refuse(404, 'Nothing is connected so', [
      { path: '', message: 'it was let go; the list tells what is connected' },
    ])
  return { desk, connection }
}
