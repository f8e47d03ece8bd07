/**
 * Requests to the address of a link, one after another, and its stream of events where it has one.
 * A stream on which not even a sign of life came is lost, whatever its socket says.
 */
import { createParser } from 'eventsource-parser'
import { requestOf } from '../../../core/design/links/bodies'
import { silenceMs } from '../../../core/design/links/alive'
import type { HttpLink } from '../../../core/design/schema'
import { streams } from '../../../core/messages/table'
import { Again, type Wire, type WireEvents } from './wire'

const MOST_WAITING = 32
/** Longer than this no answer is read, characters. */
const LONGEST_ANSWER = 64_000
const LEAST_PATIENCE_MS = 500

/** `base`: "http://192.168.4.1", now; null while it is nowhere. `key`: of paired devices. */
export function openHttpWire(
  link: HttpLink,
  base: () => string | null,
  events: WireEvents,
  headers: Readonly<Record<string, string>> = {},
): Wire {
  return new HttpWire(link, base, events, headers)
}

class HttpWire implements Wire {
  private closed = false
  private up = false
  private waiting = 0
  private queue: Promise<void> = Promise.resolve()
  private readonly ending = new AbortController()
  private readonly again: Again
  private readonly patienceMs: number
  private looking: NodeJS.Timeout | undefined

  constructor(
    private readonly link: HttpLink,
    private readonly base: () => string | null,
    private readonly events: WireEvents,
    private readonly headers: Readonly<Record<string, string>>,
  ) {
    this.patienceMs = Math.max(LEAST_PATIENCE_MS, link.timing.dropDetectMs)
    this.again = new Again(events, () => void this.reach())
    void this.reach()
  }

  private async reach(): Promise<void> {
    if (this.closed) return
    if (streams(this.link)) return this.listen()
    try {
      await this.asked(this.link.askRoute, 'GET')
      this.rises()
      // Whoever is never told anything looks whether somebody is there at all.
      clearInterval(this.looking)
      this.looking = setInterval(() => void this.look(), this.patienceMs).unref()
    } catch (error) {
      this.falls(error)
    }
  }

  private async look(): Promise<void> {
    if (!this.up || this.waiting) return
    try {
      await this.asked(this.link.askRoute, 'GET')
    } catch (error) {
      this.falls(error)
    }
  }

  private rises(): void {
    if (this.up || this.closed) return
    this.up = true
    this.again.reached()
    this.events.up()
  }

  private falls(error: unknown): void {
    if (this.closed) return
    this.up = false
    clearInterval(this.looking)
    this.again.lost(whyNot(this.base() ?? '', error))
  }

  /** The stream of events, as long as it lives. */
  private async listen(): Promise<void> {
    const ending = new AbortController()
    let watch: NodeJS.Timeout | undefined
    const alive = () => {
      clearTimeout(watch)
      const silent = () => ending.abort(new Error('it fell silent'))
      watch = setTimeout(silent, silenceMs(this.link)).unref()
    }
    alive()
    try {
      const answer = await this.fetched(this.link.eventsRoute, {
        signal: AbortSignal.any([ending.signal, this.ending.signal]),
      })
      if (!answer.ok || !answer.body)
        throw new Error(`its stream is answered with ${answer.status}`)
      this.rises()
      const parser = createParser({
        onEvent: ({ event, data }) => {
          if (event === undefined || event === 'message') this.events.heard(data, 'stream', -1)
        },
      })
      const [reader, text] = [answer.body.getReader(), new TextDecoder()]
      for (let piece = await reader.read(); !piece.done; piece = await reader.read()) {
        alive()
        parser.feed(text.decode(piece.value, { stream: true }))
      }
      throw new Error('it ended its stream')
    } catch (error) {
      this.falls(ending.signal.aborted ? ending.signal.reason : error)
    } finally {
      clearTimeout(watch)
      ending.abort()
    }
  }

  private fetched(path: string, init: RequestInit): Promise<Response> {
    const base = this.base()
    if (base === null) return Promise.reject(new Error('what was connected runs no more'))
    // Without a slash it would become a part of the address.
    if (!path.startsWith('/')) return Promise.reject(new Error('a route starts with /'))
    // A board that points elsewhere is not followed: only the address of the design is asked.
    return fetch(base + path, {
      ...init,
      redirect: 'manual',
      headers: { ...this.headers, ...init.headers },
    })
  }

  private async asked(route: string, method: string): Promise<{ ok: boolean; text: string }> {
    const { path, ...sent } = requestOf(this.link, method, route)
    const answer = await this.fetched(path, {
      ...sent,
      signal: AbortSignal.any([AbortSignal.timeout(this.patienceMs), this.ending.signal]),
    })
    return { ok: answer.ok, text: (await answer.text()).slice(0, LONGEST_ANSWER) }
  }

  send(route: string, about: number): void {
    if (this.waiting >= MOST_WAITING) return
    const { link } = this
    const reads =
      route === link.askRoute
      || route === link.helloRoute
      || link.readings.some(r => r.route === route)
    this.waiting++
    this.queue = this.queue.then(async () => {
      try {
        const { ok, text } = await this.asked(route, reads ? 'GET' : link.method.toUpperCase())
        if (!this.closed)
          this.events.heard(
            text,
            ok ? (route === link.askRoute ? 'ask' : 'command') : 'refused',
            about,
          )
      } catch (error) {
        // Where a stream is open, its own silence tells.
        if (!streams(link)) this.falls(error)
      } finally {
        this.waiting--
      }
    })
  }

  close(): void {
    this.closed = true
    clearInterval(this.looking)
    this.again.stop()
    this.ending.abort()
  }
}

function whyNot(base: string, error: unknown): string {
  const { name, message, cause } = error as Error & { cause?: { code?: string } }
  if (name === 'TimeoutError') return `${base} took too long to answer`
  switch (cause?.code) {
    case 'ECONNREFUSED':
      return `${base} refuses: the board is there, its program is not, or the port is another`
    case 'ENOTFOUND':
      return `nobody in this network is called so: ${base}`
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
      return `there is no way to ${base} from the network of this computer`
    default:
      return `${base} is not reached (${cause?.code ?? message})`
  }
}
