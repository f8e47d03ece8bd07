/** How a built panel page reaches its controller over HTTP. */
import { silenceMs } from '../../core/design/links/alive'
import { requestOf } from '../../core/design/links/bodies'
import type { HttpLink } from '../../core/design/schema'
import { streams } from '../../core/messages/table'
import { openEvents, Retry, type Events } from './events'
import type { Transport, Wire } from './transports'

/** Requests go one after another, so that answers keep their order. */
export function openHttp(link: HttpLink, base: string, wire: Wire): Transport {
  const where = base || location.host
  const patience = Math.max(500, link.timing.dropDetectMs)
  let up = false
  let closed = false
  let waiting = 0
  let queue: Promise<void> = Promise.resolve()
  const rise = () => {
    if (up || closed) return
    up = true
    retry.reached()
    wire.up()
  }
  const fall = () => {
    if (!up) return
    up = false
    wire.down()
  }
  const request = async (route: string) => {
    const method =
      route === link.askRoute || route === link.helloRoute ? 'GET' : link.method.toUpperCase()
    const { path, ...sent } = requestOf(link, method, route)
    const answer = await fetch(base + path, {
      ...sent,
      signal: AbortSignal.timeout(patience),
      cache: 'no-store',
    })
    return { ok: answer.ok, text: await answer.text() }
  }
  const lost = (error: unknown) => {
    if (events) return events.lose(whyNot(where, error))
    fall()
    retry.again(whyNot(where, error))
  }
  const lookAgain = () => {
    if (!closed && !up)
      request(link.askRoute).then(rise, (error: unknown) => retry.again(whyNot(where, error)))
  }
  const retry = new Retry(wire, lookAgain)
  let events: Events | null = null
  let look: ReturnType<typeof setInterval> | undefined
  if (streams(link)) {
    events = openEvents(
      base + link.eventsRoute,
      where,
      silenceMs(link),
      { ...wire, up: rise, down: fall },
      data => wire.heard(data, 'stream'),
    )
  } else {
    lookAgain()
    // Whoever neither asks nor is told looks from time to time whether somebody is there at all.
    look = setInterval(() => {
      if (up && !waiting) request(link.askRoute).catch(lost)
    }, patience)
  }
  return {
    send(route, about) {
      waiting++
      queue = queue.then(async () => {
        try {
          const { ok, text } = await request(route)
          wire.heard(text, ok ? (route === link.askRoute ? 'ask' : 'command') : 'refused', about)
        } catch (error) {
          lost(error)
        } finally {
          waiting--
        }
      })
    },
    close() {
      closed = true
      clearInterval(look)
      retry.stop()
      events?.close()
    },
  }
}

function whyNot(where: string, error: unknown): string {
  return error instanceof DOMException && error.name === 'TimeoutError'
    ? `${where} took too long to answer`
    : `${where} cannot be reached`
}
