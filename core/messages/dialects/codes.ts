/**
 * Short codes, of two schools: letters (on and off as capital and small of a letter of the load's
 * name; more values as that letter with a digit) and digits (consecutive, of one width so that none
 * is the start of another). A reading is the code, the value and a semicolon.
 */
import type { Codes, DialectOf, Load } from '../../design/schema'
import { spokenValues } from '../../design/values'
import { after, type CodeMaker, type Speech } from './facet'
import { claim, clear, named } from './naming'
import { hereInWords, spoken } from './text'

/** Ends a value where messages have no ends. */
const VALUE_END = ';'

export const codesSpeech: Speech = {
  ...spoken,
  reading: (mark, code, text) => mark + code + text + VALUE_END,
  value: (mark, code, body) =>
    body.endsWith(VALUE_END) ? after(body.slice(0, -1), mark + code) : null,
  counter: () => '',
}

export const codesMaker: CodeMaker<DialectOf<'codes'>> = {
  schools: ['letters', 'digits'],
  ask: () => '?',
  hello: '',
  values: (_, load, { taken }) => letterCodes(load, taken),
  wish(_, __, ___, { taken }) {
    const code = spareCode(taken)
    taken.add(code)
    return code
  },
  scene: (_, __, ___, { taken }) => spareCode(taken),
  here: hereInWords,
  codesVary: false,
}

const ALPHABET = 'abcdefghijklmnopqrstuvwxyz'
const COUNTERS = `0123456789${ALPHABET}`
const SIGNS = '#%&*=@^~!$'

/** A sign or letter that nothing starts with. */
function spareCode(taken: ReadonlySet<string>): string {
  return [...SIGNS, ...ALPHABET, ...ALPHABET.toUpperCase()].find(c => clear(c, taken)) ?? ''
}

/**
 * First free letter of the name, then of the alphabet; with all letters taken, two characters
 * starting with a spare sign.
 */
function letterCodes(load: Load, taken: Set<string>): Codes {
  const count = spokenValues(load.output).length
  const letters = [...load.name.toLowerCase().replace(/[^a-z]/g, ''), ...ALPHABET]
  const codesOf = (lead: string) =>
    count === 2
      ? [lead.slice(0, -1) + lead.slice(-1).toUpperCase(), lead]
      : [...COUNTERS].slice(0, count).map(c => lead + c)
  const pairs = [...SIGNS].flatMap(sign => [...ALPHABET].map(c => sign + c))
  for (const lead of [...letters, ...pairs]) {
    const codes = codesOf(lead)
    if (codes.every(code => clear(code, taken))) return claim(named(load, codes), taken)
  }
  throw new RangeError('no free code is left on this link')
}

/** 1 to 9 fit nine values; more take two digits each, so that "1" is never the start of "10". */
export function digitCodes(count: number): string[] {
  const width = Math.min(3, String(count).length)
  return Array.from({ length: count }, (_, i) => String(i + 1).padStart(width, '0'))
}
