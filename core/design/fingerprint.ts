/**
 * The fingerprint: a short hash over everything that two sides must agree on (load ids, codes,
 * routes, marks, report policies). Names, positions and colours are left out: a panel with a moved
 * key still speaks the same table. SHA-256 (FIPS 180-4) over a canonical text, first 24 bits.
 */
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import { wholeOf } from './part'
import type { Design, Link, Message } from './schema'
import { dialectRow } from './dialects/rows'
import { linkRow } from './links/rows'
import { speaksBytes, speaksRoutes } from './links/traits'

/** Six hexadecimal digits, upper case. */
export function fingerprint(design: Design): string {
  return bytesToHex(sha256(utf8ToBytes(agreedText(wholeOf(design)))))
    .slice(0, 6)
    .toUpperCase()
}

/**
 * The canonical text that is hashed: one line a fact, sorted, so that the order of rows does not
 * matter.
 */
export function agreedText(design: Design): string {
  const lines = [
    ...design.loads.map(l => `load ${l.id} ${l.output.kind}`),
    ...design.scenes.map(
      s => `sets ${s.id} ${s.sets.map(x => `${x.loadId}=${x.value}`).join(' ')}`,
    ),
    ...design.links.flatMap(linkLines),
  ]
  return lines.sort().join('\n')
}

/**
 * What links had from the beginning is told without a word, so that what was built earlier still
 * agrees.
 */
function moreText(link: Link): string[] {
  const more = speaksRoutes(link)
    ? [link.method === 'get' ? '' : link.method, link.answers === 'text' ? '' : link.answers]
    : [
        link.restartMark && `restart ${link.restartMark}`,
        link.helloCode && `hello ${link.helloCode}`,
        link.errorText && `error ${link.errorText}`,
      ]
  if (link.auth.kind !== 'none')
    more.push(`auth ${link.auth.kind}${'tagBytes' in link.auth ? ` ${link.auth.tagBytes}` : ''}`)
  if (link.numbered) more.push('numbered')
  return more.some(Boolean) ? [`more ${link.id} ${more.filter(Boolean).join(' ')}`] : []
}

/**
 * On before off, the rest as text: the order in which a document lists its codes does not matter.
 */
const valueOrder = (a: string, b: string) =>
  Number(b === 'on') - Number(a === 'on') || (a < b ? -1 : 1)

function linkLines(link: Link): string[] {
  const bytes = speaksBytes(link)
    ? ` ask ${link.askCode} mark ${link.reportMark}${dialectRow(link.dialect).agreed(link.dialect)}`
    : ''
  return [
    `link ${link.id} ${linkRow(link).agreed(link)}${bytes} connect ${link.onConnect}`,
    ...moreText(link),
    ...link.readings.map(r => `reading ${link.id} ${r.sensorId} ${'code' in r ? r.code : ''}`),
    ...Object.entries(link.scenes).map(([sceneId, code]) => `scene ${link.id} ${sceneId} ${code}`),
    ...(link.messages as Message[]).map(
      m =>
        `message ${link.id} ${m.loadId} ${Object.keys(m.codes)
          .sort(valueOrder)
          .map(v => `${v} ${m.codes[v]}`)
          .join(' ')} ack ${m.ack} change ${m.change}`,
    ),
  ]
}
