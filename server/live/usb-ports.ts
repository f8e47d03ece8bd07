/**
 * Serial ports of the computer that Nolvi runs on, for uploads where the browser offers none. Only
 * what is listed is opened; NOLVI_SERIAL names further ports, with commas between.
 */
import { readdir } from 'node:fs/promises'
import { SerialPort } from 'serialport'
import { Arriving } from '../../core/boards/arriving'
import type { UploadPort } from '../../core/boards/upload'

export interface ServerPort {
  path: string
  /** What it says of itself, or "". */
  name: string
}

/** Boards are reset by a fall of the line through a capacitor. */
const RESET_MS = 250

/** Ports that are plugged in now. */
export async function usbPorts(): Promise<ServerPort[]> {
  const named = (process.env.NOLVI_SERIAL ?? '').split(',').filter(Boolean)
  const found = await SerialPort.list().catch(() => null)
  const ports =
    found?.map(({ path, manufacturer, serialNumber }) => ({
      path,
      name: [manufacturer, serialNumber].filter(Boolean).join(', '),
    })) ?? (await inFolder())
  return [
    ...named.map(path => ({ path, name: '' })),
    ...ports.filter(p => !named.includes(p.path) && isPlugged(p.path)),
  ]
}

/** The ports of a mainboard are there whether anything is plugged in or not. */
const isPlugged = (path: string) => !/\/ttyS\d+$/.test(path)

/** Where nobody tells what is plugged in, their files do. */
async function inFolder(): Promise<ServerPort[]> {
  const files = await readdir('/dev').catch(() => [])
  return files
    .filter(f => /^tty(USB|ACM)\d+$/.test(f))
    .toSorted()
    .map(f => ({ path: `/dev/${f}`, name: '' }))
}

/** Opens a port that is listed; throws where it is not, or another program has it. */
export async function openUsbPort(
  path: string,
  baudRate: number,
): Promise<UploadPort & { done(): Promise<void> }> {
  if (!(await usbPorts()).some(p => p.path === path)) throw new Error(`There is no port ${path}.`)
  const port = new SerialPort({ path, baudRate, autoOpen: false })
  await new Promise<void>((resolve, reject) =>
    port.open(error => (error ? reject(error) : resolve())),
  )
  const arriving = new Arriving((ms, then) => {
    const timer = setTimeout(then, ms)
    return () => clearTimeout(timer)
  })
  port.on('data', (bytes: Buffer) => arriving.push(bytes))
  port.on('close', () => arriving.close())
  // What goes wrong is told by who waits for an answer.
  port.on('error', () => undefined)
  const signal = (on: boolean) =>
    new Promise<void>(resolve => port.set({ dtr: on, rts: on }, () => resolve()))
  return {
    write: bytes =>
      new Promise(resolve => {
        port.write(Buffer.from(bytes))
        port.drain(() => resolve())
      }),
    read: (count, ms) => arriving.read(count, ms),
    // A port without such a line (a pseudo terminal) stays as it is: then the board has to be
    // started by hand.
    async reset() {
      await signal(false)
      await new Promise(done => setTimeout(done, RESET_MS))
      await signal(true)
      arriving.clear()
    },
    done: () => new Promise(resolve => port.close(() => resolve())),
  }
}
