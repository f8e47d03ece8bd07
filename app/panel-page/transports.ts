/** How a built panel page reaches its controller: HTTP, a serial Bluetooth port, or the byte stream of a stand-in. */
import type { HttpLink, Link, SerialLink } from '../../core/design/schema'
import { bytesText, textBytes } from '../../core/design/wire'
import { streams } from '../../core/messages/table'
import type { Via } from '../../core/surfaces/panel'

export interface Wire {
  up: () => void
  down: () => void
  heard: (text: string, via: Via) => void
}
export interface Transport {
  send: (text: string) => void
  /** Serial ports are opened by a press only; others connect by themselves. */
  connect?: () => Promise<void>
  close: () => void
}

const RETRY_MS = 1000

export function openTransport(link: Link, base: string, standIn: string | null, wire: Wire): Transport {
  if (standIn) return openStandIn(standIn, wire)
  if (link.kind === 'http') return openHttp(link, base, wire)
  // What a browser cannot speak by itself goes through a stand-in or a gateway only.
  return 'baud' in link ? openSerial(link, wire) : { send: () => undefined, close: () => undefined }
}

/** Requests go one after another, so that answers keep their order. */
function openHttp(link: HttpLink, base: string, wire: Wire): Transport {
  let up = false
  let closed = false
  let queue: Promise<void> = Promise.resolve()
  let source: EventSource | null = null
  const rise = () => {
    if (up || closed) return
    up = true
    wire.up()
  }
  const fall = () => {
    if (!up) return
    up = false
    wire.down()
  }
  const request = async (route: string) => {
    const method = route === link.askRoute ? 'GET' : link.method.toUpperCase()
    const answer = await fetch(base + route, { method, signal: AbortSignal.timeout(Math.max(500, link.timing.dropDetectMs)), cache: 'no-store' })
    return answer.text()
  }
  const lookAgain = () => {
    if (closed || up) return
    request(link.askRoute).then(rise, () => setTimeout(lookAgain, RETRY_MS))
  }
  if (streams(link)) {
    source = new EventSource(base + link.eventsRoute)
    source.onopen = rise
    source.onmessage = event => wire.heard(String(event.data), 'stream')
    source.onerror = fall
  }
  else lookAgain()
  return {
    send(route) {
      queue = queue.then(async () => {
        try { wire.heard(await request(route), route === link.askRoute ? 'ask' : 'command') }
        catch {
          fall()
          if (!source) setTimeout(lookAgain, RETRY_MS)
        }
      })
    },
    close() {
      closed = true
      source?.close()
    },
  }
}

/** The byte stream of a stand-in: server-sent events down, one POST per text up. */
function openStandIn(path: string, wire: Wire): Transport {
  const source = new EventSource(path)
  let queue: Promise<unknown> = Promise.resolve()
  source.onopen = wire.up
  source.onerror = wire.down
  source.onmessage = event => wire.heard(JSON.parse(String(event.data)) as string, 'stream')
  return {
    send(text) { queue = queue.then(() => fetch(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ text }) })).catch(wire.down) },
    close: () => source.close(),
  }
}

interface SerialPortLike {
  open: (options: { baudRate: number }) => Promise<void>
  readable: ReadableStream<Uint8Array> | null
  writable: WritableStream<Uint8Array> | null
}

/** A paired module appears as a serial port where the browser offers ports to pages (Web Serial). */
function openSerial(link: SerialLink, wire: Wire): Transport {
  const serial = (navigator as { serial?: { requestPort: () => Promise<SerialPortLike> } }).serial
  let writer: WritableStreamDefaultWriter<Uint8Array> | undefined
  const transport: Transport = {
    send(text) { void writer?.write(textBytes(text)).catch(wire.down) },
    close: () => undefined,
  }
  if (!serial) return transport
  transport.connect = async () => {
    const port = await serial.requestPort()
    await port.open({ baudRate: link.baud })
    writer = port.writable?.getWriter()
    wire.up()
    const reader = port.readable?.getReader()
    try {
      for (;;) {
        const piece = await reader?.read()
        if (!piece || piece.done) break
        wire.heard(bytesText(piece.value), 'stream')
      }
    }
    finally {
      writer = undefined
      wire.down()
    }
  }
  return transport
}
