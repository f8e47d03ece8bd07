import { z } from 'zod'
import { base64Bytes } from '../../../../../../core/bytes/base64'
import { bytesText } from '../../../../../../core/bytes/text'
import { wireAs } from '../../../../../live/desk'
import { PageWire } from '../../../../../live/wires/page-wire'

const bodySchema = z.strictObject({
  open: z.boolean().optional(),
  why: z.string().max(300).optional(),
  /** Bytes that came, in base64. */
  heard: z.base64().max(100_000).optional(),
})

/** News of the port that a page of this browser has. */
export default defineEventHandler(async event => {
  const { connection } = connectionOf(event)
  const { open, why, heard } = await readAs(event, bodySchema, 'This is no news of a port')
  const wire = wireAs(connection, PageWire)
  if (!wire) throw refuse(400, 'This connection is held by the server itself')
  const text = heard === undefined ? undefined : bytesText(base64Bytes(heard))
  wire.tell({ open, why, heard: text })
  setResponseStatus(event, 204)
  return null
})
