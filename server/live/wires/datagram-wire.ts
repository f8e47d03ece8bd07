/** Datagrams to the address of a link. Nobody knows whether somebody is there until he answers. */
import { createSocket, type Socket } from 'node:dgram'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { Again, type Wire, type WireEvents } from './wire'

/** Addresses whose last number is this go to all of a network. */
const TO_ALL = /\.255$/

export function openDatagramWire(host: string, port: number, events: WireEvents): Wire {
  let closed = false
  let socket: Socket | null = null
  const again = new Again(events, open)
  function open(): void {
    if (closed) return
    const opened = createSocket('udp4')
    socket = opened
    opened.on('error', (error: NodeJS.ErrnoException) => {
      if (socket !== opened) return
      socket = null
      opened.close()
      again.lost(whyNot(host, error))
    })
    opened.on('message', (bytes, from) => {
      // Only who was asked is heard; on a network that is asked as a whole, whoever answers.
      if (from.port === port || TO_ALL.test(host)) events.heard(bytesText(bytes), 'stream', -1)
    })
    opened.bind(0, () => {
      if (TO_ALL.test(host)) opened.setBroadcast(true)
      again.reached()
      events.up()
    })
  }
  open()
  return {
    send(text) {
      // A network that is gone says so here; the next question tries it again.
      socket?.send(textBytes(text), port, host, () => undefined)
    },
    close() {
      closed = true
      again.stop()
      socket?.close()
      socket = null
    },
  }
}

function whyNot(host: string, { code, message }: NodeJS.ErrnoException): string {
  return code === 'ENOTFOUND' ? `nobody in this network is called ${host}` : message
}
