/**
 * Gives codes to all actions of a link. Schools: letters (capital = on, small = off, by the load's name), digits
 * (consecutive, two a load, fixed width so that none is the start of another), routes (/load/on, /load/off).
 */
import type { Design, Link, Load } from '../design/schema'
import { commands, rows } from './table'

export type School = 'letters' | 'digits' | 'routes'
export type Codes = Record<string, { on: string, off: string }>

export const SCHOOLS: Record<Link['kind'], readonly School[]> = { 'bluetooth-serial': ['letters', 'digits'], 'http': ['routes'] }

/** Codes for every load of the link. Each pair is distinct and prefix-free, and keeps clear of the ask code and report mark. */
export function assign(design: Design, link: Link, school: School): Codes {
  const loads = rows(design, link).map(r => r.load)
  const pairs = school === 'digits' ? digitPairs(loads.length) : []
  const taken = new Set(reserved(link))
  return Object.fromEntries(loads.map((load, i) => [load.id, school === 'digits' ? pairs[i] : school === 'letters' ? letterPair(load, taken) : routePair(load, taken)])) as Codes
}

/** Codes for one more load, clear of everything the link uses already. */
export function nextCodes(design: Design, link: Link, load: Load): { on: string, off: string } {
  const taken = new Set([...reserved(link), ...commands(design, link).map(c => c.code)])
  return link.kind === 'http' ? routePair(load, taken) : letterPair(load, taken)
}

function reserved(link: Link): string[] {
  return link.kind === 'http' ? [link.askRoute, link.eventsRoute] : [link.askCode, link.reportMark]
}

/** First free letter of the name, then of the alphabet; with all letters taken, two characters starting with a spare sign. */
function letterPair(load: Load, taken: Set<string>): { on: string, off: string } {
  const letters = [...load.name.toLowerCase().replace(/[^a-z]/g, ''), ...'abcdefghijklmnopqrstuvwxyz']
  const free = letters.find(c => clear(c, taken) && clear(c.toUpperCase(), taken))
  if (free) return claim({ on: free.toUpperCase(), off: free }, taken)
  for (const lead of '#%&*=@^~!$') {
    const pair = [...'abcdefghijklmnopqrstuvwxyz'].find(c => clear(lead + c, taken) && clear(lead + c.toUpperCase(), taken))
    if (pair) return claim({ on: lead + pair.toUpperCase(), off: lead + pair }, taken)
  }
  throw new RangeError('no free code is left on this link')
}

/** 1 to 9 fit four loads; more loads take two digits each, so that "1" is never the start of "10". */
function digitPairs(count: number): { on: string, off: string }[] {
  const width = count * 2 <= 9 ? 1 : 2
  return Array.from({ length: count }, (_, i) => ({ on: String(2 * i + 1).padStart(width, '0'), off: String(2 * i + 2).padStart(width, '0') }))
}

function routePair(load: Load, taken: Set<string>): { on: string, off: string } {
  const short = load.id.split('-')[0] ?? load.id
  const bases = [short, load.id, ...Array.from({ length: 40 }, (_, i) => `${load.id}-${i + 2}`)]
  const base = bases.find(b => !taken.has(`/${b}/on`) && !taken.has(`/${b}/off`)) ?? load.id
  return claim({ on: `/${base}/on`, off: `/${base}/off` }, taken)
}

function claim(pair: { on: string, off: string }, taken: Set<string>): { on: string, off: string } {
  taken.add(pair.on).add(pair.off)
  return pair
}

function clear(code: string, taken: Set<string>): boolean {
  for (const other of taken) if (other.startsWith(code) || code.startsWith(other)) return false
  return true
}
