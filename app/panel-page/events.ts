/** A stream of events that is opened anew after a loss, for ever. */
import { ALIVE_EVENT } from '../../core/design/links/alive'
import type { Wire } from './transports'

const FIRST_RETRY_MS = 1000
const LAST_RETRY_MS = 30_000

/** Tries again and again, each time after twice as long, and tells when. */
export class Retry {
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
