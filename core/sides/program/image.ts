/**
 * The program of an 8-bit board without a compiler: an image that is made beforehand, with the
 * table of the design written into it.
 */
import { fingerprintMark } from '../../boards/upload-record'
import { base64Bytes } from '../../bytes/base64'
import { writeHex } from '../../bytes/intel-hex'
import { textBytes } from '../../bytes/text'
import { fingerprint } from '../../design/fingerprint'
import type { Design } from '../../design/schema'
import { practiceSecret } from '../../messages/sealing'
import { secretLinks } from './carried'
import { isSmall } from './can-program'
import { IMAGE_CODE } from './image-code'
import { imageFit } from './image-fit'
import { IMAGE_ROOMS } from './image-rooms'
import { partTable } from './part-table'
import { SECRET_ROOM } from './tables'

/** By link. */
type Secrets = Readonly<Record<string, string>>

/** Those that everybody knows, for trying a program where nothing is guarded. */
export function practiceSecrets(part: Design): Secrets {
  return Object.fromEntries(secretLinks(part).map(l => [l.id, practiceSecret(l)]))
}

/** The table with what follows it: each secret, and which design it is of. */
function tableOf(part: Design, secrets: Secrets): Uint8Array {
  const { table } = partTable(part)
  const rows = table.secret.map(({ id }) => {
    const text = textBytes(secrets[id] ?? '')
    if (text.length > SECRET_ROOM - 1) throw new Error('a secret is too long for the table')
    const row = new Uint8Array(SECRET_ROOM)
    row.set([text.length, ...text])
    return row
  })
  const mark = textBytes(`${fingerprintMark(fingerprint(part))}\0`)
  return Uint8Array.from([...table.bytes, ...rows.flatMap(r => [...r]), ...mark])
}

/**
 * What stands in the flash of the chip, from address 0; null where no program is made, no image has
 * room for the design, or a secret is missing.
 */
export function programImage(part: Design, secrets: Secrets = {}): Uint8Array | null {
  if (!isSmall(part) || secretLinks(part).some(l => secrets[l.id] === undefined)) return null
  const { name, lacks } = imageFit(part)
  if (lacks.length) return null
  const { at = 0, room = 0 } = IMAGE_ROOMS[name] ?? {}
  const bytes = base64Bytes(IMAGE_CODE[name] ?? '')
  const image = new Uint8Array(bytes.length + room).fill(0xff)
  image.set(bytes.subarray(0, at))
  image.set(tableOf(part, secrets), at)
  image.set(bytes.subarray(at), at + room)
  return image
}

/** The same as Intel HEX. */
export function programHex(part: Design, secrets: Secrets = {}): string | null {
  const image = programImage(part, secrets)
  return image && writeHex(image)
}
