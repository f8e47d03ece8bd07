/**
 * Explains typed or pasted input of a link, byte by byte or route by route, without running
 * anything.
 */
import type { Design, HttpLink, Link, ByteLink } from '../design/schema'
import { codeUses, commandWords, type CodeUse } from './clashes'
import { isTimed } from '../design/outputs/timed'
import { startsTimers, timeBehind } from './times'
import { literal, visible } from '../bytes/template'
import { bodyIn, bodyOf, shownWire } from '../design/wire'
import { hexText, octets } from '../bytes/text'
import { inOrder } from '../design/links/parameters'
import { hasRoute, routeOf } from './routes'
import { numberSaid } from './setpoints'
import { numberCodes, saidBy } from './places'
import { bareOf, FRESH, practiceSecret, unsealed } from './sealing'
import { feed, readerOf, type Reader } from './stream'
import { speaksRoutes, structureOn } from '../design/links/traits'

export interface ExplainedByte {
  char: string
  hex: string
  says: string
}
export interface Explained {
  bytes: ExplainedByte[]
  codes: string[]
  leftover: string
}

export type Typed = { ok: true; text: string } | { ok: false; message: string }

/**
 * What was typed, as it crosses the wire: escapes (\\n, \\x41) on text dialects, hexadecimal on
 * packed ones, the route on HTTP.
 */
export function typed(link: Link, input: string): Typed {
  if (speaksRoutes(link))
    return {
      ok: true,
      text:
        link.auth.kind === 'none'
          ? routeOf(input, asked => hasRoute(link, asked))
          : input.trim().replace(/^(?:GET|POST)\s+(\S+).*$/i, '$1'),
    }
  if (structureOn(link)) {
    const hex = input.replace(/\s+|0x|,/g, '')
    return /^([0-9A-Fa-f]{2})*$/.test(hex)
      ? {
          ok: true,
          text: (hex.match(/../g) ?? []).map(h => String.fromCharCode(parseInt(h, 16))).join(''),
        }
      : { ok: false, message: 'bytes in hexadecimal, such as 05 02 01 01 C4 00' }
  }
  const read = literal(input)
  return read.ok
    ? { ok: true, text: octets(read.text) }
    : { ok: false, message: `at ${read.at + 1}: ${read.message}` }
}

/**
 * What a whole command that crossed says, its proof left out of account; "" where it says nothing.
 * For traffic that was recorded.
 */
export function meansOf(design: Design, link: Link, text: string): string {
  const body = bodyIn(link, text)
  return whatOf(design, link, bareOf(link, body) ?? body) ?? ''
}

/** Serial: one row a byte. HTTP: one row for the route. */
export function explain(design: Design, link: Link, input: string): Explained {
  return speaksRoutes(link) ? explainRoute(design, link, input) : explainBytes(design, link, input)
}

function explainBytes(design: Design, link: ByteLink, input: string): Explained {
  const uses = new Map<string, string>()
  for (const use of codeUses(design, link))
    if (!uses.has(bodyOf(link, use.code, 'command')))
      uses.set(bodyOf(link, use.code, 'command'), use.what)
  const free = new Set(
    [link.askCode, link.helloCode].filter(Boolean).map(c => bodyOf(link, c, 'command')),
  )
  const reader = readerOf(link, uses.keys())
  const heardCodes: string[] = []
  let buffer = ''
  const bytes = [...input].map(char => {
    const step = feed(reader, buffer, char)
    const lost = step.heard.flatMap(h => (h.kind === 'unknown' ? [h.bytes] : []))
    const code = step.heard.find(h => h.kind === 'code')
    const says = [
      ...lost.map(text => longerWords(design, link, text)),
      code?.kind === 'code'
        ? `"${shownWire(link, code.code)}" = ${uses.get(code.code) ?? ''}${link.auth.kind === 'none' || free.has(code.code) ? '' : ', but without its proof: refused'}`
        : '',
      step.buffer ? waitWords(link, reader, step.buffer) : '',
    ]
      .filter(Boolean)
      .join('; ')
    if (code?.kind === 'code') heardCodes.push(shownWire(link, code.code))
    buffer = step.buffer
    return { char: visible(char), hex: hexText(char), says }
  })
  return { bytes, codes: heardCodes, leftover: shownWire(link, buffer) }
}

/**
 * What is no code by itself: a command with its proof or with a time behind it, or nothing. Proofs
 * are looked at with the practice secret.
 */
function longerWords(design: Design, link: ByteLink, text: string): string {
  const shown = shownWire(link, text)
  const opened =
    link.auth.kind === 'none' ? null : unsealed(link, practiceSecret(link), FRESH, text)
  const means = whatOf(design, link, opened?.ok ? opened.body : text)
  if (means && opened?.ok) return `"${shown}" = ${means}, proved with the practice secret`
  if (means) return `"${shown}" = ${means}${opened ? ', but without its proof: refused' : ''}`
  return `"${shown}" is no code${opened && !opened.ok ? ` (${opened.why})` : ''}, nothing happens`
}

/** What a body says, as it is or with a time behind it; undefined for none. */
function whatOf(design: Design, link: Link, body: string): string | undefined {
  const uses = codeUses(design, link)
  const plain = uses.find(u => bodyOf(link, u.code, 'command') === body)
  const what = plain?.what ?? numberWhat(design, link, body)
  const timed = startsTimers(link) ? timeBehind(link, body) : null
  if (what || !timed) return what
  const use = uses.find(u => bodyOf(link, u.code, 'command') === timed.body)
  return use?.loadId && isTimed(use.value ?? '')
    ? commandWords(design, use.loadId, `${use.value}:${timed.ms}`)
    : undefined
}

/** "Show lamp 37 %": what a code for numbers says, and how a number beside the steps is taken. */
function numberWhat(design: Design, link: Link, body: string): string | undefined {
  for (const of of numberCodes(design, link)) {
    const { load, code, step } = of
    const number = numberSaid(link, code, body, 'command')
    if (number === null) continue
    const value = saidBy(of, number)
    const words = commandWords(design, load.id, value)
    return step !== null || value === String(number) ? words : `${words}, the nearest to ${number}`
  }
  return undefined
}

/**
 * What the bytes so far can become: told byte by byte where codes follow one another, else where
 * the end is missing.
 */
function waitWords(link: ByteLink, reader: Reader, buffer: string): string {
  const open = [...reader.bodies]
    .filter(b => b.startsWith(buffer))
    .map(b => `"${shownWire(link, b)}"`)
  if (reader.end === '') return `start of ${open.join(', ')}, waits for more`
  if (reader.bodies.has(buffer)) return `all but the end of "${shownWire(link, buffer)}"`
  if (!open.length) return 'no message starts so; given up at the next end'
  const more = open.length > 3 ? ` and ${open.length - 3} more` : ''
  return `start of ${open.slice(0, 3).join(', ')}${more}`
}

function explainRoute(design: Design, link: HttpLink, input: string): Explained {
  const opened =
    link.auth.kind === 'none' ? null : unsealed(link, practiceSecret(link), FRESH, input.trim())
  if (opened?.ok) {
    const means = whatOf(design, link, opened.body)
    return {
      bytes: [
        {
          char: input.trim(),
          hex: '',
          says: means ? `${means}, proved with the practice secret` : 'no such route',
        },
      ],
      codes: means ? [opened.body] : [],
      leftover: '',
    }
  }
  const uses = codeUses(design, link)
  const useOf = (asked: string) => uses.find(u => inOrder(u.code) === inOrder(asked))
  const route = routeOf(input, asked => hasRoute(link, asked))
  const use = useOf(route)
  const says = use ? foundWords(link, use) : notFoundWords(design, link, route)
  return { bytes: [{ char: route, hex: '', says }], codes: use ? [use.code] : [], leftover: '' }
}

/** What a route of the table does when it is asked for as it is. */
function foundWords(link: HttpLink, { code, what }: CodeUse): string {
  const free = [link.askRoute, link.helloRoute, link.eventsRoute]
  return link.auth.kind === 'none' || free.includes(code)
    ? what
    : `${what}, but without its proof: refused with 403`
}

/** What a route does that does not stand in the table. */
function notFoundWords(design: Design, link: HttpLink, route: string): string {
  const timed = whatOf(design, link, route)
  if (timed) return timed
  const near = codeUses(design, link).find(u => u.code.toLowerCase() === route.toLowerCase())
  return near
    ? `no such route; "${near.code}" (${near.what}) differs in letter case`
    : 'no such route: answered with 404, nothing happens'
}
