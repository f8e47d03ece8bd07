/**
 * How a built panel page reaches its controller over HTTP; other links: byte-transports.ts. Each
 * tells why it does not.
 */
import { requestOf } from '../../core/design/links/bodies'
import { ALIVE_EVENT, silenceMs } from '../../core/design/links/alive'
import type { HttpLink, Link } from '../../core/design/schema'
import { streams } from '../../core/messages/table'
import { openBytes } from './features'
import type { Via } from '../../core/surfaces/surface'
import { speaksRoutes } from '../../core/design/links/traits'

export interface Wire {
  up: () => void
  down: () => void
  /** In words, while it is not connected. */
  why: (words: string) => void
  /** `about`: the load of the command that is answered, -1 = none or several. */
  heard: (text: string, via: Via, about?: number) => void
}
export interface Transport {
  send: (text: string, about: number) => void
  /** Serial ports are opened by a press only; others connect by themselves. */
  connect?: () => Promise<void>
  close: () => void
}

const FIRST_RETRY_MS = 1000
const LAST_RETRY_MS = 30_000

export function openTransport(
  link: Link,
  base: string,
  standIn: string | null,
  wire: Wire,
): Transport {
  if (speaksRoutes(link)) return openHttp(link, base, wire)
  return openBytes(link, standIn, wire)
}

/** Tries again and again, each time after twice as long, and tells when. */
class Retry {
  private wait = FIRST_RETRY_MS
  private timer: ReturnType<typeof setTimeout> | undefined
  constructor(
    private readonly wire: Wire,
    private readonly then: () => void,
  ) {}

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

  stop(): void {
    clearTimeout(this.timer)
  }
}

export interface Events {
  /** Something else showed that nobody is there: the stream is given up and opened anew. */
  lose: (why: string) => void
  close: () => void
}

/**
 * Server-sent events, opened anew after a loss, for ever. A stream on which not even a sign of life
 * came for `silence` ms is lost, whatever the socket says: a board that hangs, or a network that
 * swallows, breaks no connection.
 */
export function openEvents(
  url: string,
  where: string,
  silence: number,
  wire: Wire,
  heard: (data: string) => void,
): Events {
  let source: EventSource
  let watch: ReturnType<typeof setTimeout> | undefined
  const retry = new Retry(wire, open)
  const stop = () => {
    clearTimeout(watch)
    source.close()
  }
  const lose = (why: string) => {
    stop()
    wire.down()
    retry.again(why)
  }
  const alive = () => {
    clearTimeout(watch)
    watch = setTimeout(() => lose(`${where} fell silent`), silence)
  }
  function open(): void {
    source = new EventSource(url)
    alive()
    source.onopen = () => {
      alive()
      retry.reached()
      wire.up()
    }
    source.onmessage = event => {
      alive()
      heard(String(event.data))
    }
    source.addEventListener(ALIVE_EVENT, alive)
    source.onerror = () => lose(`${where} does not answer`)
  }
  open()
  return {
    lose,
    close() {
      retry.stop()
      stop()
    },
  }
}

/** Requests go one after another, so that answers keep their order. */
function openHttp(link: HttpLink, base: string, wire: Wire): Transport {
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
