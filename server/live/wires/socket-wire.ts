/** Bytes over TCP: the serial links and consoles of what runs on this server. */
import { connect, type Socket } from 'node:net'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { Again, type Wire, type WireEvents } from './wire'

const MOST_WAITING = 20_000

/** `at`: where it is now; null while it is nowhere. */
export function openSocketWire(
  at: () => { host: string; port: number } | null,
  events: WireEvents,
): Wire {
  let socket: Socket | null = null
  let closed = false
  const again = new Again(events, open)
  function open(): void {
    if (closed) return
    const to = at()
    if (!to) return again.lost('what was connected runs no more')
    const opened = connect(to.port, to.host)
    let isUp = false
    socket = opened
    opened.setNoDelay(true)
    opened.on('connect', () => {
      isUp = true
      again.reached()
      events.up()
    })
    opened.on('data', bytes => events.heard(bytesText(bytes), 'stream', -1))
    opened.on('error', () => undefined)
    opened.on('close', () => {
      if (closed) return
      socket = null
      again.lost(isUp ? 'the line was closed by the other end' : 'nobody listens there')
    })
  }
  open()
  return {
    send(text) {
      if (socket && socket.writableLength < MOST_WAITING) socket.write(textBytes(text))
    },
    close() {
      closed = true
      again.stop()
      socket?.destroy()
    },
  }
}
