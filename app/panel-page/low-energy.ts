/**
 * How a built panel page reaches its controller over low-energy Bluetooth, where the browser offers
 * it to pages (Web Bluetooth): chosen once by a press, connected again by itself when it comes
 * back.
 */
import { bytesText, textBytes } from '../../core/bytes/text'
import type { LinkOf } from '../../core/design/schema'
import type { Transport, Wire } from './transports'

/** What is used of the interface of browsers. */
interface Characteristic extends EventTarget {
  value?: DataView
  startNotifications: () => Promise<unknown>
  writeValueWithResponse: (bytes: Uint8Array) => Promise<void>
}
interface Server {
  connect: () => Promise<Server>
  disconnect?: () => void
  getPrimaryService: (
    uuid: string,
  ) => Promise<{ getCharacteristic: (uuid: string) => Promise<Characteristic> }>
}
interface Device extends EventTarget {
  gatt: Server
}
interface Bluetooth {
  requestDevice: (options: { filters: { services: string[] }[] }) => Promise<Device>
}

const AGAIN_MS = 2000

export function openLowEnergy(link: LinkOf<'low-energy'>, wire: Wire): Transport {
  const { bluetooth } = navigator as { bluetooth?: Bluetooth }
  let device: Device | undefined
  let writer: Characteristic | undefined
  let queue: Promise<unknown> = Promise.resolve()
  let closed = false
  const lost = () => {
    writer = undefined
    wire.down()
    if (closed) return
    wire.why('The board is out of reach. Trying again until it is back.')
    setTimeout(() => void reach(), AGAIN_MS)
  }
  async function reach(): Promise<void> {
    if (!device || writer || closed) return
    try {
      const service = await (await device.gatt.connect()).getPrimaryService(link.service)
      const hears = await service.getCharacteristic(link.notifyFrom)
      hears.addEventListener('characteristicvaluechanged', heard)
      await hears.startNotifications()
      writer = await service.getCharacteristic(link.writeTo)
      wire.up()
    } catch {
      lost()
    }
  }
  function heard(this: Characteristic): void {
    const { value } = this
    if (value)
      wire.heard(
        bytesText(new Uint8Array(value.buffer, value.byteOffset, value.byteLength)),
        'stream',
      )
  }
  const transport: Transport = {
    send(text) {
      const bytes = textBytes(text)
      const to = writer
      for (let at = 0; at < bytes.length; at += link.packetBytes) {
        const packet = bytes.slice(at, at + link.packetBytes)
        // What was to be said before the link was lost is not said to who comes back.
        queue = queue
          .then(() => (to && to === writer ? to.writeValueWithResponse(packet) : undefined))
          .catch(() => undefined)
      }
    },
    close() {
      closed = true
      device?.gatt.disconnect?.()
    },
  }
  if (!bluetooth) {
    wire.why(
      isSecureContext
        ? 'This browser offers no low-energy Bluetooth to pages. Use one that does, or a panel over HTTP.'
        : 'Bluetooth is offered to pages from a file or over https only.',
    )
    return transport
  }
  wire.why('Press Connect and choose the board.')
  transport.connect = async () => {
    try {
      const chosen = await bluetooth.requestDevice({ filters: [{ services: [link.service] }] })
      if (chosen !== device) {
        device = chosen
        device.addEventListener('gattserverdisconnected', lost)
      }
      await reach()
    } catch (error) {
      const { name } = error as { name?: string }
      wire.why(
        name === 'NotFoundError'
          ? 'No board was chosen. Press Connect again.'
          : 'Bluetooth is switched off, or not allowed here. Press Connect again.',
      )
    }
  }
  return transport
}
