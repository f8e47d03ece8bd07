/**
 * The byte stream of a stand-in: server-sent events down, one POST per text up. A program of its
 * own, which only pages served by a stand-in hold.
 */
import { silenceMs } from '../../core/design/links/alive'
import type { Link } from '../../core/design/schema'
import { openEvents } from './events'
import type { Transport, Wire } from './transports'

globalThis.nolviStandIn = openStandIn

function openStandIn(link: Link, path: string, wire: Wire): Transport {
  let queue: Promise<unknown> = Promise.resolve()
  const events = openEvents(path, 'The stand-in', silenceMs(link), wire, data =>
    wire.heard(JSON.parse(data) as string, 'stream'),
  )
  const post = (text: string) =>
    fetch(path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ text }),
      signal: AbortSignal.timeout(silenceMs(link)),
    })
  return {
    send(text) {
      queue = queue.then(() => post(text)).catch(() => events.lose('The stand-in does not answer'))
    },
    close: events.close,
  }
}
