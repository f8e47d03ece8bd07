/**
 * The fingerprint: a short hash over everything that two sides must agree on (load ids, codes, routes, marks, report
 * policies). Names, positions and colours are left out: a panel with a moved key still speaks the same table.
 * SHA-256 (FIPS 180-4) over a canonical text, first 24 bits.
 */
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import type { Design, Link, Message, SerialLink } from './schema'

/** Six hexadecimal digits, upper case. */
export function fingerprint(design: Design): string {
  return bytesToHex(sha256(utf8ToBytes(agreedText(design)))).slice(0, 6).toUpperCase()
}

/** The canonical text that is hashed: one line a fact, sorted, so that the order of rows does not matter. */
export function agreedText(design: Design): string {
  const lines = [...design.loads.map(l => `load ${l.id} ${l.output.kind}`), ...design.links.flatMap(linkLines)]
  return lines.sort().join('\n')
}

/** Short codes are told as ever, so that what was built before dialects came still agrees. */
function dialectText({ dialect }: SerialLink): string {
  if (dialect.kind === 'codes') return ''
  const fields = dialect.kind === 'packed' ? ` ${dialect.framing} ${dialect.crc} ${dialect.endian} ${dialect.packed} ${dialect.fields.map(f => `${f.name}:${f.type}:${f.is}`).join()}` : ` ${dialect.terminator}`
  return ` ${dialect.kind}${fields}`
}

/** On before off, the rest as text: the order in which a document lists its codes does not matter. */
const valueOrder = (a: string, b: string) => Number(b === 'on') - Number(a === 'on') || (a < b ? -1 : 1)

function linkLines(link: Link): string[] {
  const head = link.kind === 'http'
    ? `link ${link.id} http ask ${link.askRoute} events ${link.eventsRoute}${link.matching === 'exact' ? '' : ` ${link.matching}`}`
    : `link ${link.id} serial ${link.baud} ask ${link.askCode} mark ${link.reportMark}${dialectText(link)}`
  return [
    `${head} connect ${link.onConnect}`,
    ...(link.messages as Message[]).map(m => `message ${link.id} ${m.loadId} ${Object.keys(m.codes).sort(valueOrder).map(v => `${v} ${m.codes[v]}`).join(' ')} ack ${m.ack} change ${m.change}`),
  ]
}
