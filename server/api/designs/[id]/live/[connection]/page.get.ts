import { base64 } from '../../../../../../core/bytes/base64'
import { textBytes } from '../../../../../../core/bytes/text'
import { wireAs } from '../../../../../live/desk'
import { PageWire } from '../../../../../live/wires/page-wire'

/** So long a page waits for something to send, ms. */
const WAIT_MS = 2000

/** What the page is to send through its port, in base64, one after another. */
export default defineEventHandler(async event => {
  const { connection } = connectionOf(event)
  const wire = wireAs(connection, PageWire)
  if (!wire) throw refuse(400, 'This connection is held by the server itself')
  return (await wire.fetch(WAIT_MS)).map(text => base64(textBytes(text)))
})
