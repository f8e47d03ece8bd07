/** What the dialects of text have in common: lines with an end. */
import { visible } from '../../bytes/template'
import { octets, textBytes } from '../../bytes/text'
import type { DialectFacet, DialectWire } from './facet'
import { numberAt, putIn } from './place'
import type { Dialect } from './schema'

type TextDialect = Extract<Dialect, { terminator: unknown }>

const TERMINATORS = { lf: '\n', crlf: '\r\n', cr: '\r', semicolon: ';' } as const

export const textWire: DialectWire<TextDialect> = {
  bare: false,
  roomBehind: true,
  readable: true,
  tells: true,
  looseSpaces: false,
  end: ({ terminator }) => TERMINATORS[terminator],
  body(_, code, direction, reportMark) {
    if (code === '') return ''
    return (direction === 'report' ? reportMark : '') + octets(code)
  },
  put: (_, code, number) => putIn(code, number),
  number: (_, place, body) => numberAt(place, body),
  sized: () => null,
  checks: () => 0,
  started: () => '',
}

const text: Omit<DialectFacet<TextDialect>, 'words' | 'name' | 'problems' | 'fresh'> = {
  marked: true,
  shown: wire => visible(new TextDecoder().decode(textBytes(wire))),
  trouble({ terminator }, code) {
    if ([...code].some(c => c < ' ' || c === '\u007F')) return 'a line holds no control characters'
    if (terminator === 'semicolon' && code.includes(';'))
      return 'the end of a line, ;, cannot stand within it'
    return code !== code.trim() ? 'a line neither starts nor ends with a space' : ''
  },
  proves: () => true,
  agreed: ({ kind, terminator }) => ` ${kind} ${terminator}`,
}

type Own<D extends TextDialect> = Pick<DialectFacet<D>, 'words' | 'name' | 'problems' | 'fresh'>

/** A dialect of text with what is its own. */
export function textual<D extends TextDialect>(
  own: Own<D> & Partial<DialectFacet<D>>,
): DialectFacet<D> {
  return { ...text, ...own }
}
