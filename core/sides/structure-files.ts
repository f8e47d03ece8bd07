/**
 * For a link that speaks in structures: the C header that both sides include, and test vectors of
 * every message.
 */
import { cHeader } from '../bytes/structure'
import { fingerprint } from '../design/fingerprint'
import type { Design, ByteLink } from '../design/schema'
import { spokenValues, valueWords } from '../design/values'
import { shownWire, wireOf } from '../design/wire'
import { structureOf, type PackedDialect } from '../design/dialects/packed'
import { codeUses, numberWords } from '../messages/clashes'
import { reportText, rows } from '../messages/table'
import { numberCodes } from '../messages/places'
import { csv } from './csv'

const FRAMES: Record<PackedDialect['framing'], string> = {
  cobs: 'consistent-overhead byte stuffing, 00 at the end',
  slip: 'RFC 1055, C0 at the end',
  length: 'one byte of length first',
  none: 'none, a datagram each',
}

/** The structures of a packed link as a C header. */
export function structureHeader(design: Design, link: ByteLink, dialect: PackedDialect): string {
  const name = link.id.replaceAll('-', '_')
  const numbers = rows(design, link).map(
    ({ load }) =>
      `#define LOAD_${load.id.toUpperCase().replaceAll('-', '_')} ${design.loads.findIndex(l => l.id === load.id) + 1}u`,
  )
  const kinds = dialect.fields.some(f => f.is === 'kind')
    ? ['#define KIND_COMMAND 1u', '#define KIND_REPORT 2u', '#define KIND_ASK 3u', '']
    : []
  return [
    `// Messages of ${link.id}, made by Nolvi. Fingerprint ${fingerprint(design)}.`,
    `// Frames: ${FRAMES[dialect.framing]}; ${dialect.crc ? `${dialect.crc} over the structure as it stands in the frame, behind it, least significant byte first` : 'no check'}.`,
    ...kinds,
    ...numbers,
    '',
    cHeader(name, structureOf(dialect)),
  ].join('\n')
}

/** Every message with its bytes on the wire. */
export function structureVectors(design: Design, link: ByteLink): string {
  const commands = codeUses(design, link).map(u => [
    'to the board',
    u.what,
    u.code,
    shownWire(link, wireOf(link, u.code, 'command')),
  ])
  const reports = rows(design, link).flatMap(({ load, message }) =>
    spokenValues(load.output).map(v => [
      'from the board',
      `${load.name} is ${valueWords(load.output, v)}`,
      '',
      shownWire(link, reportText(link, load, message, v)),
    ]),
  )
  const numbers = numberCodes(design, link).map(of => [
    'to the board',
    `${numberWords(of)}; the value is the number`,
    of.code,
    shownWire(link, wireOf(link, of.code, 'command')),
  ])
  return csv(
    ['direction', 'means', 'structure', 'on the wire'],
    [...commands, ...numbers, ...reports, ['', 'fingerprint', '', fingerprint(design)]],
  )
}
