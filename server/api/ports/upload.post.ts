import { z } from 'zod'
import { upload, USUAL_CHIP, UploadFailed } from '../../../core/boards/upload'
import { base64Bytes } from '../../../core/bytes/base64'
import { openUsbPort } from '../../live/usb-ports'

const bodySchema = z.strictObject({
  port: z.string().max(200),
  baud: z.number().int().min(1200).max(1_000_000),
  /** The image from address 0 on, in base64. */
  image: z.base64().max(400_000),
})

/**
 * Writes an image onto the board at a port of this computer. A line of JSON for each step; the last
 * says that it is done, or what went wrong. Whoever goes away gives up.
 */
export default defineEventHandler(async event => {
  const { port: path, baud, image } = await readAs(event, bodySchema, 'This is not an upload')
  let gone = false
  event.node.res.once('close', () => {
    gone = true
  })
  setHeader(event, 'content-type', 'application/x-ndjson')
  const { res } = event.node
  const tell = (line: unknown) => {
    if (!gone) res.write(`${JSON.stringify(line)}\n`)
  }
  try {
    const port = await openUsbPort(path, baud)
    try {
      await upload(port, base64Bytes(image), USUAL_CHIP, tell, () => gone)
      tell({ step: 'done' })
    } finally {
      await port.done()
    }
  } catch (error) {
    const words =
      error instanceof UploadFailed
        ? error.message
        : `The port could not be opened: ${(error as Error).message}`
    tell({ step: 'failed', words })
  }
  res.end()
})
