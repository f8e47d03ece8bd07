/**
 * Gives codes to all actions of a link. Schools: letters (on and off as capital and small of a letter of the load's name;
 * more values as that letter with a digit), digits (consecutive, of one width so that none is the start of another),
 * routes (/load/value).
 */
import type { Codes, Design, Link, Load } from '../design/schema'
import { spokenValues } from '../design/values'
import { commands, rows } from './table'

export type School = 'letters' | 'digits' | 'routes'

export const SCHOOLS: Record<Link['kind'], readonly School[]> = { 'bluetooth-serial': ['letters', 'digits'], 'http': ['routes'] }

/** Codes by load for all loads of the link: distinct, prefix-free, clear of the ask code and report mark. */
export function assign(design: Design, link: Link, school: School): Record<string, Codes> {
  const loads = rows(design, link).map(r => r.load)
  const digits = school === 'digits' ? digitCodes(loads.reduce((n, l) => n + spokenValues(l.output).length, 0)) : []
  const taken = new Set(reserved(link))
  return Object.fromEntries(loads.map(load => [load.id, school === 'digits' ? named(load, digits.splice(0, spokenValues(load.output).length)) : school === 'letters' ? letterCodes(load, taken) : routeCodes(load, taken)]))
}

/** Codes for one more load, clear of everything the link uses already. */
export function nextCodes(design: Design, link: Link, load: Load): Codes {
  const taken = new Set([...reserved(link), ...commands(design, link).map(c => c.code)])
  return link.kind === 'http' ? routeCodes(load, taken) : letterCodes(load, taken)
}

function reserved(link: Link): string[] {
  return link.kind === 'http' ? [link.askRoute, link.eventsRoute] : [link.askCode, link.reportMark]
}

function named(load: Load, codes: readonly string[]): Codes {
  return Object.fromEntries(spokenValues(load.output).map((value, i) => [value, codes[i] ?? '']))
}

const ALPHABET = 'abcdefghijklmnopqrstuvwxyz'
const COUNTERS = `0123456789${ALPHABET}`

/** First free letter of the name, then of the alphabet; with all letters taken, two characters starting with a spare sign. */
function letterCodes(load: Load, taken: Set<string>): Codes {
  const count = spokenValues(load.output).length
  const letters = [...load.name.toLowerCase().replace(/[^a-z]/g, ''), ...ALPHABET]
  const codesOf = (lead: string) => count === 2 ? [lead.slice(0, -1) + lead.slice(-1).toUpperCase(), lead] : [...COUNTERS].slice(0, count).map(c => lead + c)
  for (const lead of [...letters, ...[...'#%&*=@^~!$'].flatMap(sign => [...ALPHABET].map(c => sign + c))]) {
    const codes = codesOf(lead)
    if (codes.every(code => clear(code, taken))) return claim(named(load, codes), taken)
  }
  throw new RangeError('no free code is left on this link')
}

/** 1 to 9 fit nine values; more take two digits each, so that "1" is never the start of "10". */
function digitCodes(count: number): string[] {
  const width = count <= 9 ? 1 : count <= 99 ? 2 : 3
  return Array.from({ length: count }, (_, i) => String(i + 1).padStart(width, '0'))
}

function routeCodes(load: Load, taken: Set<string>): Codes {
  const short = load.id.split('-')[0] ?? load.id
  const values = spokenValues(load.output)
  const bases = [short, load.id, ...Array.from({ length: 40 }, (_, i) => `${load.id}-${i + 2}`)]
  const base = bases.find(b => values.every(v => !taken.has(`/${b}/${v}`))) ?? load.id
  return claim(named(load, values.map(v => `/${base}/${v}`)), taken)
}

function claim(codes: Codes, taken: Set<string>): Codes {
  for (const code of Object.values(codes)) taken.add(code)
  return codes
}

function clear(code: string, taken: Set<string>): boolean {
  for (const other of taken) if (other.startsWith(code) || code.startsWith(other)) return false
  return true
}
