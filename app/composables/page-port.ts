/**
 * A port that the browser gives to this page, a serial one or low-energy Bluetooth, passed on to
 * the server, which makes of it what it makes of ports of its own.
 */
import { base64, base64Bytes } from '../../core/bytes/base64'
import { bytesText, textBytes } from '../../core/bytes/text'
import type { Link } from '../../core/design/schema'
import { openTransport, type Transport, type Wire } from '../panel-page/transports'

/** Until a port that was let go is free, ms. */
const FREE_MS = 200
/** By link: what is open here, however its table is shown or hidden. */
const open = new Map<string, () => void>()

/** Lets the port of a link go, where this page has one. */
export async function closePagePort(linkId: string): Promise<void> {
  const close = open.get(linkId)
  if (!close) return
  close()
  await new Promise(done => setTimeout(done, FREE_MS))
}

/**
 * To be called by a press: browsers ask the person which port it is. `path`: of the connection.
 * `said`: what the port says of itself. `opens`: what stands in the place of a port.
 */
export function openPagePort(
  link: Link,
  path: string,
  said: (words: string) => void,
  opens: (wire: Wire) => Transport = wire => openTransport(link, '', null, wire),
): void {
  let closed = false
  // News go one after another, so that bytes keep their order.
  let queue: Promise<unknown> = Promise.resolve()
  const tell = (news: object) => {
    queue = queue.then(() => ask(`${path}/page`, { method: 'POST', body: news }))
  }
  let why = ''
  const transport = opens({
    up: () => {
      why = ''
      said('')
      tell({ open: true })
    },
    down: () => tell({ open: false, ...(why ? { why } : {}) }),
    why: words => {
      why = words
      said(words)
      tell({ open: false, why: words })
    },
    heard: text => tell({ heard: base64(textBytes(text)) }),
  })
  async function fetching(): Promise<void> {
    while (!closed) {
      const answer = await ask<string[]>(`${path}/page`)
      if (!answer.ok) {
        if (answer.refusal.status === 404) return void close()
        await new Promise(done => setTimeout(done, 1000))
        continue
      }
      for (const text of answer.value) transport.send(bytesText(base64Bytes(text)), -1)
    }
  }
  function close(): void {
    closed = true
    if (open.get(link.id) === close) open.delete(link.id)
    transport.close()
  }
  open.set(link.id, close)
  void fetching()
  void transport.connect?.()
}
