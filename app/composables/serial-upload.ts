/** A serial port of the browser as uploads need one: bytes with time limits, and its reset line. */
import { Arriving } from '../../core/boards/arriving'
import type { UploadPort } from '../../core/boards/upload'

interface Signals {
  dataTerminalReady: boolean
  requestToSend: boolean
}
interface BrowserPort {
  open: (options: { baudRate: number; bufferSize?: number }) => Promise<void>
  close: () => Promise<void>
  setSignals: (signals: Signals) => Promise<void>
  readable: ReadableStream<Uint8Array> | null
  writable: WritableStream<Uint8Array> | null
}
interface BrowserSerial {
  requestPort: () => Promise<BrowserPort>
}

/** Boards are reset by a fall of the line through a capacitor. */
const RESET_MS = 250

const serialOf = () => (navigator as { serial?: BrowserSerial }).serial

/** What keeps this page from serial ports, or "". */
export function noSerialPorts(): string {
  if (serialOf()) return ''
  return isSecureContext
    ? 'This browser offers no serial ports to pages. Open Nolvi in a desktop browser that does, or upload from the sketch environment.'
    : 'Browsers offer serial ports to pages on this computer itself or over https only: open Nolvi at 127.0.0.1.'
}

/** Asks for a port and opens it; `done` closes it. Throws where none is chosen. */
export async function openBoard(baudRate: number): Promise<UploadPort & { done(): Promise<void> }> {
  const port = await (serialOf() as BrowserSerial).requestPort()
  await port.open({ baudRate, bufferSize: 4096 })
  const reader = port.readable?.getReader()
  const writer = port.writable?.getWriter()
  let open = true
  const arriving = new Arriving((ms, then) => {
    const timer = setTimeout(then, ms)
    return () => clearTimeout(timer)
  })
  const reads = (async () => {
    while (open) {
      const piece = await reader?.read().catch(() => null)
      if (!piece || piece.done) break
      arriving.push(piece.value)
    }
    arriving.close()
  })()
  const signal = (on: boolean) => port.setSignals({ dataTerminalReady: on, requestToSend: on })
  return {
    async write(bytes) {
      await writer?.write(bytes)
    },
    read: (count, ms) => arriving.read(count, ms),
    async reset() {
      await signal(false)
      await new Promise(done => setTimeout(done, RESET_MS))
      await signal(true)
      arriving.clear()
    },
    async done() {
      open = false
      await reader?.cancel().catch(() => undefined)
      await reads
      reader?.releaseLock()
      writer?.releaseLock()
      await port.close().catch(() => undefined)
    },
  }
}
