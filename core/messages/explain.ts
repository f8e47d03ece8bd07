/** Explains typed or pasted input of a link, byte by byte or route by route, without running anything. */
import type { Design, HttpLink, Link, ByteLink } from '../design/schema'
import { codeUses } from './clashes'
import { literal, visible } from '../bytes/template'
import { bodyOf, bytesText, hexText, shownWire } from '../design/wire'
import { routeOf } from './routes'
import { feed, readerOf, type Reader } from './stream'

export interface ExplainedByte { char: string, hex: string, says: string }
export interface Explained { bytes: ExplainedByte[], codes: string[], leftover: string }

export type Typed = { ok: true, text: string } | { ok: false, message: string }

/** What was typed, as it crosses the wire: escapes (\\n, \\x41) on text dialects, hexadecimal on packed ones, the route on HTTP. */
export function typed(link: Link, input: string): Typed {
  if (link.kind === 'http') return { ok: true, text: routeOf(input) }
  if (link.dialect.kind === 'packed') {
    const hex = input.replace(/\s+|0x|,/g, '')
    return /^([0-9A-Fa-f]{2})*$/.test(hex) ? { ok: true, text: (hex.match(/../g) ?? []).map(h => String.fromCharCode(parseInt(h, 16))).join('') } : { ok: false, message: 'bytes in hexadecimal, such as 05 02 01 01 C4 00' }
  }
  const read = literal(input)
  return read.ok ? { ok: true, text: bytesText(new TextEncoder().encode(read.text)) } : { ok: false, message: `at ${read.at + 1}: ${read.message}` }
}

/** Serial: one row a byte. HTTP: one row for the route. */
export function explain(design: Design, link: Link, input: string): Explained {
  return link.kind === 'http' ? explainRoute(design, link, input) : explainBytes(design, link, input)
}

function explainBytes(design: Design, link: ByteLink, input: string): Explained {
  const uses = new Map<string, string>()
  for (const use of codeUses(design, link)) if (!uses.has(bodyOf(link, use.code, 'command'))) uses.set(bodyOf(link, use.code, 'command'), use.what)
  const reader = readerOf(link, uses.keys())
  const heardCodes: string[] = []
  let buffer = ''
  const bytes = [...input].map((char) => {
    const step = feed(reader, buffer, char)
    const lost = step.heard.flatMap(h => h.kind === 'unknown' ? [shownWire(link, h.bytes)] : [])
    const code = step.heard.find(h => h.kind === 'code')
    const says = [
      ...lost.map(text => `"${text}" is no code, nothing happens`),
      code?.kind === 'code' ? `"${shownWire(link, code.code)}" = ${uses.get(code.code) ?? ''}` : '',
      step.buffer ? waitWords(link, reader, step.buffer) : '',
    ].filter(Boolean).join('; ')
    if (code?.kind === 'code') heardCodes.push(shownWire(link, code.code))
    buffer = step.buffer
    return { char: visible(char), hex: hexText(char), says }
  })
  return { bytes, codes: heardCodes, leftover: shownWire(link, buffer) }
}

/** What the bytes so far can become: told byte by byte where codes follow one another, else where the end is missing. */
function waitWords(link: ByteLink, reader: Reader, buffer: string): string {
  const open = [...reader.bodies].filter(b => b.startsWith(buffer)).map(b => `"${shownWire(link, b)}"`)
  if (reader.end === '') return `start of ${open.join(', ')}, waits for more`
  const whole = reader.bodies.has(buffer) ? `all but the end of "${shownWire(link, buffer)}"` : open.length ? `start of ${open.slice(0, 3).join(', ')}${open.length > 3 ? ` and ${open.length - 3} more` : ''}` : 'no message starts so; given up at the next end'
  return whole
}

function explainRoute(design: Design, link: HttpLink, input: string): Explained {
  const route = routeOf(input)
  const use = codeUses(design, link).find(u => u.code === route)
  const near = use ? undefined : codeUses(design, link).find(u => u.code.toLowerCase() === route.toLowerCase())
  const says = use ? use.what : near ? `no such route; "${near.code}" (${near.what}) differs in letter case` : 'no such route: answered with 404, nothing happens'
  return { bytes: [{ char: route, hex: '', says }], codes: use ? [use.code] : [], leftover: '' }
}
