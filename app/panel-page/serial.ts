/** How a built panel page reaches its controller through a serial port, by Web Serial. */
import { bytesText, textBytes } from '../../core/bytes/text'
import type { SerialLink } from '../../core/design/schema'
import type { Transport, Wire } from './transports'

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
export function openSerial(link: SerialLink, wire: Wire): Transport {
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
