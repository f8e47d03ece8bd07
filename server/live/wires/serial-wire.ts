/** A serial port of this computer, opened anew whenever it is there again. */
import { statSync } from 'node:fs'
import { SerialPort } from 'serialport'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { usbPorts } from '../usb-ports'
import { Again, type Wire, type WireEvents } from './wire'

/**
 * So often is looked whether the port is still the same, ms: a cable that is pulled while a read is
 * under way ends in reads of nothing, again and again, and in no close.
 */
const LOOK_MS = 1000
/** With more than this waiting to go out nothing more is taken, bytes. */
const MOST_WAITING = 20_000

export function openSerialWire(path: string, baudRate: number, events: WireEvents): Wire {
  let port: SerialPort | null = null
  let closed = false
  let looks: NodeJS.Timeout | undefined
  const again = new Again(events, () => void open())
  async function open(): Promise<void> {
    if (closed) return
    if (!(await usbPorts()).some(p => p.path === path))
      return again.lost(`there is no port ${path}: it was pulled, or its board has no power`)
    if (closed) return
    const opened = new SerialPort({ path, baudRate, autoOpen: false, lock: true })
    port = opened
    opened.on('data', (bytes: Buffer) => events.heard(bytesText(bytes), 'stream', -1))
    // What goes wrong ends in a close, which is told.
    opened.on('error', () => end(opened))
    opened.on('close', () => {
      clearInterval(looks)
      if (port === opened) port = null
      if (!closed) again.lost(`${path} was lost: the cable, or the power of the board`)
    })
    opened.open(error => {
      if (closed) return void opened.close(() => undefined)
      if (error) {
        port = null
        again.lost(whyNot(path, error))
      } else {
        again.reached()
        events.up()
        look(opened)
      }
    })
  }
  /** Ends it where its name stands for another device now, or for none. */
  function look(opened: SerialPort): void {
    const device = deviceAt(path)
    clearInterval(looks)
    if (device !== '')
      looks = setInterval(() => {
        if (deviceAt(path) !== device) end(opened)
      }, LOOK_MS).unref()
  }
  void open()
  return {
    send(text) {
      if (port?.isOpen && port.writableLength < MOST_WAITING)
        port.write(Buffer.from(textBytes(text)))
    },
    close() {
      closed = true
      again.stop()
      clearInterval(looks)
      if (port) end(port)
    },
  }
}

function end(port: SerialPort): void {
  if (port.isOpen) port.close(() => undefined)
}

/** What a name stands for; "" where that cannot be told, as on systems whose ports are no files. */
function deviceAt(path: string): string {
  try {
    const { dev, ino, rdev } = statSync(path)
    return `${dev} ${ino} ${rdev}`
  } catch {
    return ''
  }
}

function whyNot(path: string, error: Error): string {
  const { message } = error
  if (/lock|busy|temporarily unavailable/i.test(message))
    return `${path} is held by another program`
  if (/permission|access denied/i.test(message))
    return `${path} may not be opened by this user: put it into the group that owns the port`
  return `${path} could not be opened (${message.replace(/^Error:?\s*/, '')})`
}
