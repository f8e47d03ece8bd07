/** How a built panel page reaches its controller over HTTP; other links: byte-transports.ts. Each tells why it does not. */
import type { HttpLink, Link } from '../../core/design/schema'
import { streams } from '../../core/messages/table'
import { openBytes } from './features'
import type { Via } from '../../core/surfaces/panel'

export interface Wire {
  up: () => void
  down: () => void
  /** In words, while it is not connected. */
  why: (words: string) => void
  heard: (text: string, via: Via) => void
}
export interface Transport {
  send: (text: string) => void
  /** Serial ports are opened by a press only; others connect by themselves. */
  connect?: () => Promise<void>
  close: () => void
}

const FIRST_RETRY_MS = 1000
const LAST_RETRY_MS = 30_000

export function openTransport(link: Link, base: string, standIn: string | null, wire: Wire): Transport {
  if (link.kind === 'http') return openHttp(link, base, wire)
  return openBytes(link, standIn, wire)
}

/** Tries again and again, each time after twice as long, and tells when. */
class Retry {
  private wait = FIRST_RETRY_MS
  private timer: ReturnType<typeof setTimeout> | undefined
  constructor(private readonly wire: Wire, private readonly then: () => void) {}

  again(why: string): void {
    const words = navigator.onLine ? why : 'This device is in no network'
    this.wire.why(`${words}. Trying again in ${Math.round(this.wait / 1000)} s.`)
    clearTimeout(this.timer)
    this.timer = setTimeout(this.then, this.wait)
    this.wait = Math.min(LAST_RETRY_MS, this.wait * 2)
  }

  reached(): void {
    this.wait = FIRST_RETRY_MS
    this.stop()
  }

  stop(): void { clearTimeout(this.timer) }
}

/** Server-sent events, opened anew after a loss. */
export function openEvents(url: string, where: string, wire: Wire, heard: (data: string) => void): () => void {
  let source: EventSource
  const retry = new Retry(wire, open)
  function open(): void {
    source = new EventSource(url)
    source.onopen = () => {
      retry.reached()
      wire.up()
    }
    source.onmessage = event => heard(String(event.data))
    source.onerror = () => {
      source.close()
      wire.down()
      retry.again(`${where} does not answer`)
    }
  }
  open()
  return () => {
    retry.stop()
    source.close()
  }
}

/** Requests go one after another, so that answers keep their order. */
function openHttp(link: HttpLink, base: string, wire: Wire): Transport {
  const where = base || location.host
  let up = false
  let closed = false
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
    const method = route === link.askRoute || route === link.helloRoute ? 'GET' : link.method.toUpperCase()
    const answer = await fetch(base + route, { method, signal: AbortSignal.timeout(Math.max(500, link.timing.dropDetectMs)), cache: 'no-store' })
    return answer.text()
  }
  const lookAgain = () => {
    if (!closed && !up) request(link.askRoute).then(rise, (error: unknown) => retry.again(whyNot(where, error)))
  }
  const retry = new Retry(wire, lookAgain)
  let closeEvents: (() => void) | null = null
  if (streams(link)) {
    closeEvents = openEvents(base + link.eventsRoute, where, { ...wire, up: rise, down: fall }, data => wire.heard(data, 'stream'))
  }
  else lookAgain()
  return {
    send(route) {
      queue = queue.then(async () => {
        try { wire.heard(await request(route), route === link.askRoute ? 'ask' : 'command') }
        catch (error) {
          fall()
          if (!closeEvents) retry.again(whyNot(where, error))
        }
      })
    },
    close() {
      closed = true
      retry.stop()
      closeEvents?.()
    },
  }
}

function whyNot(where: string, error: unknown): string {
  return error instanceof DOMException && error.name === 'TimeoutError' ? `${where} took too long to answer` : `${where} cannot be reached`
}
