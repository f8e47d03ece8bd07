/** Datagrams to the address of a link. Nobody knows whether somebody is there until he answers. */
import { createSocket } from 'node:dgram'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { Again, type Wire, type WireEvents } from './wire'

/** Addresses whose last number is this go to all of a network. */
const TO_ALL = /\.255$/

export function openDatagramWire(host: string, port: number, events: WireEvents): Wire {
  let closed = false
  let socket = createSocket('udp4')
  const again = new Again(events, open)
  function open(): void {
    if (closed) return
    const opened = (socket = createSocket('udp4'))
    const lost = (error: NodeJS.ErrnoException) => {
      opened.close()
      if (!closed) again.lost(whyNot(host, error))
    }
    opened.once('error', lost)
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
  socket.close()
  open()
  return {
    send(text) {
      // A network that is gone says so here; the next question tries it again.
      if (!closed) socket.send(textBytes(text), port, host, () => undefined)
    },
    close() {
      closed = true
      again.stop()
      socket.close()
    },
  }
}

function whyNot(host: string, { code, message }: NodeJS.ErrnoException): string {
  return code === 'ENOTFOUND' ? `nobody in this network is called ${host}` : message
}
