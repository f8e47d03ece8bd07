/**
 * How a built panel page reaches its controller over links of bytes: a serial port, low-energy
 * Bluetooth (low-energy.ts), or the byte stream of a stand-in.
 */
import { silenceMs } from '../../core/design/links/alive'
import { isLowEnergy } from '../../core/design/links/traits'
import type { Link, SerialLink } from '../../core/design/schema'
import { bytesText, textBytes } from '../../core/bytes/text'
import { openLowEnergy } from './low-energy'
import { openEvents, type Transport, type Wire } from './transports'

export function openBytes(link: Link, standIn: string | null, wire: Wire): Transport {
  if (standIn) return openStandIn(link, standIn, wire)
  if ('baud' in link) return openSerial(link, wire)
  if (isLowEnergy(link)) return openLowEnergy(link, wire)
  wire.why('No browser speaks this link: open the page on a stand-in.')
  return { send: () => undefined, close: () => undefined }
}

/** The byte stream of a stand-in: server-sent events down, one POST per text up. */
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

interface Serial {
  requestPort: () => Promise<SerialPortLike>
  addEventListener?: (type: 'connect', then: () => void) => void
}
interface SerialPortLike {
  open: (options: { baudRate: number }) => Promise<void>
  close?: () => Promise<void>
  readable: ReadableStream<Uint8Array> | null
  writable: WritableStream<Uint8Array> | null
}

/**
 * A paired module appears as a serial port where the browser offers ports to pages (Web Serial).
 * Chosen once by a press, opened again by itself when it is plugged in again.
 */
function openSerial(link: SerialLink, wire: Wire): Transport {
  const { serial } = navigator as { serial?: Serial }
  let writer: WritableStreamDefaultWriter<Uint8Array> | undefined
  let reader: ReadableStreamDefaultReader<Uint8Array> | undefined
  let port: SerialPortLike | undefined
  const transport: Transport = {
    send(text) {
      void writer?.write(textBytes(text)).catch(wire.down)
    },
    close() {
      void reader?.cancel().catch(() => undefined)
    },
  }
  if (!serial) {
    wire.why(
      isSecureContext
        ? 'This browser offers no serial ports to pages.'
        : 'Serial ports are offered to pages from a file or over https only.',
    )
    return transport
  }
  wire.why('Press Connect and choose the port.')
  async function reach(): Promise<void> {
    if (!port || writer) return
    try {
      await port.open({ baudRate: link.baud })
      writer = port.writable?.getWriter()
      wire.up()
      reader = port.readable?.getReader()
      for (;;) {
        const piece = await reader?.read()
        if (!piece || piece.done) break
        wire.heard(bytesText(piece.value), 'stream')
      }
      wire.why('The port was closed. Press Connect again.')
    } catch (error) {
      const { name } = error as { name?: string }
      wire.why(
        name === 'NetworkError'
          ? 'The port was lost, or another program has it. Plug it in, or press Connect again.'
          : 'The port could not be opened. Press Connect again.',
      )
    } finally {
      // Others may have it, and it can be opened again.
      reader?.releaseLock()
      writer?.releaseLock()
      writer = reader = undefined
      await port.close?.().catch(() => undefined)
      wire.down()
    }
  }
  serial.addEventListener?.('connect', () => void reach())
  transport.connect = async () => {
    try {
      port = await serial.requestPort()
    } catch {
      return wire.why('No port was chosen. Press Connect again.')
    }
    await reach()
  }
  return transport
}
