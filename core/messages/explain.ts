/** Explains typed or pasted input of a link, byte by byte or route by route, without running anything. */
import type { Design, HttpLink, Link, SerialLink } from '../design/schema'
import { codeUses } from './clashes'
import { utf8ToBytes } from '@noble/hashes/utils.js'
import { feed } from './stream'

export interface ExplainedByte { char: string, hex: string, says: string }
export interface Explained { bytes: ExplainedByte[], codes: string[], leftover: string }

/** Serial: one row a byte. HTTP: one row for the route. */
export function explain(design: Design, link: Link, input: string): Explained {
  return link.kind === 'http' ? explainRoute(design, link, input) : explainBytes(design, link, input)
}

/** "GET /booth/on HTTP/1.1", a whole address or a bare route all give the route. */
export function routeOf(input: string): string {
  const target = /^\s*(?:GET|POST|PUT)\s+(\S+)/i.exec(input)?.[1] ?? input.trim()
  const path = target.replace(/^[a-z]+:\/\/[^/]*/i, '')
  return path.split(/[?#]/)[0] || '/'
}

function explainBytes(design: Design, link: SerialLink, input: string): Explained {
  const uses = new Map<string, string>()
  for (const use of codeUses(design, link)) if (!uses.has(use.code)) uses.set(use.code, use.what)
  const codes = new Set(uses.keys())
  const heardCodes: string[] = []
  let buffer = ''
  const bytes = [...input].map((char) => {
    const step = feed(codes, buffer, char)
    const lost = step.heard.flatMap(h => h.kind === 'unknown' ? [h.bytes] : [])
    const code = step.heard.find(h => h.kind === 'code')
    const says = [
      ...lost.map(text => `"${text}" is no code, nothing happens`),
      code?.kind === 'code' ? `"${code.code}" = ${uses.get(code.code) ?? ''}` : '',
      step.buffer ? `start of ${[...codes].filter(c => c.startsWith(step.buffer)).map(c => `"${c}"`).join(', ')}, waits for more` : '',
    ].filter(Boolean).join('; ')
    if (code?.kind === 'code') heardCodes.push(code.code)
    buffer = step.buffer
    return { char, hex: hexOf(char), says }
  })
  return { bytes, codes: heardCodes, leftover: buffer }
}

function explainRoute(design: Design, link: HttpLink, input: string): Explained {
  const route = routeOf(input)
  const use = codeUses(design, link).find(u => u.code === route)
  const near = use ? undefined : codeUses(design, link).find(u => u.code.toLowerCase() === route.toLowerCase())
  const says = use ? use.what : near ? `no such route; "${near.code}" (${near.what}) differs in letter case` : 'no such route: answered with 404, nothing happens'
  return { bytes: [{ char: route, hex: '', says }], codes: use ? [use.code] : [], leftover: '' }
}

function hexOf(char: string): string {
  return [...utf8ToBytes(char)].map(b => b.toString(16).toUpperCase().padStart(2, '0')).join(' ')
}
