/**
 * The program of an 8-bit board without a compiler: an image that is made beforehand, with the
 * table of the design written into it.
 */
import { base64Bytes } from '../../bytes/base64'
import { writeHex } from '../../bytes/intel-hex'
import type { Design, Link } from '../../design/schema'
import { carriedLinks } from './carried'
import { canProgram } from './folder'
import { IMAGE_CODE } from './image-code'
import { imageFit, imageTable } from './image-fit'
import { IMAGE_ROOMS } from './image-rooms'

/** Links whose secrets the image of a design needs. */
export function imageSecrets(part: Design): Link[] {
  return carriedLinks(part)
    .map(c => c.link)
    .filter(l => l.auth.kind !== 'none')
}

/**
 * What stands in the flash of the chip, from address 0; null where no program is made, no image has
 * room for the design, or a secret is missing. `secrets` by link.
 */
export function programImage(
  part: Design,
  secrets: Readonly<Record<string, string>> = {},
): Uint8Array | null {
  if (!canProgram(part) || imageSecrets(part).some(l => secrets[l.id] === undefined)) return null
  const { name, lacks } = imageFit(part)
  if (lacks.length) return null
  const { at = 0, room = 0 } = IMAGE_ROOMS[name] ?? {}
  const bytes = base64Bytes(IMAGE_CODE[name] ?? '')
  const table = imageTable(part, secrets)
  const image = new Uint8Array(bytes.length + room).fill(0xff)
  image.set(bytes.subarray(0, at))
  image.set(table, at)
  image.set(bytes.subarray(at), at + room)
  return image
}

/** The same as Intel HEX. */
export function programHex(
  part: Design,
  secrets: Readonly<Record<string, string>> = {},
): string | null {
  const image = programImage(part, secrets)
  return image && writeHex(image)
}
