/**
 * The netlist of a circuit as open data, the connections from point to point, and the electrical
 * rules it is held to.
 */
import { fingerprint } from '../../design/fingerprint'
import type { Design } from '../../design/schema'
import { csv } from '../csv'
import { circuitOf } from './circuit'
import { GROUND, type Circuit, type Part, type Row } from './model'

export interface Terminal {
  /** "K1", or the label of a pin of the board. */
  ref: string
  terminal: string
  does: 'drives' | 'reads' | 'pulls' | 'feeds' | 'passes'
}
export interface Netlist {
  parts: { ref: string; what: string; value: string; nets: Readonly<Record<string, string>> }[]
  nets: { name: string; terminals: Terminal[] }[]
}

/** All rows of a circuit. */
export function rowsOf(circuit: Circuit): Row[] {
  return circuit.sheets.flatMap(s => s.rows)
}

/** Parts and nets; the board's own pins are terminals of `board`. */
export function netlistOf(circuit: Circuit): Netlist {
  const nets = new Map<string, Terminal[]>()
  const put = (net: string, terminal: Terminal) => {
    const list = nets.get(net)
    if (list) list.push(terminal)
    else nets.set(net, [terminal])
  }
  const rows = rowsOf(circuit)
  const parts = rows.flatMap(r => r.parts)
  for (const row of rows)
    for (const pin of row.pins) put(pin.net, { ref: 'board', terminal: pin.label, does: pin.does })
  for (const part of parts)
    for (const [terminal, net] of Object.entries(part.nets)) {
      const does = part.drives.includes(terminal) ? 'drives' : 'passes'
      put(net, { ref: part.ref, terminal: terminal || 'in', does })
    }
  for (const net of new Set(rows.flatMap(r => r.flags.map(f => f.net))))
    put(net, { ref: 'rail', terminal: net, does: 'feeds' })
  return {
    parts: parts.map(p => ({ ref: p.ref, what: p.words, value: p.value, nets: p.nets })),
    nets: [...nets].map(([name, terminals]) => ({ name, terminals })),
  }
}

/** The netlist as JSON, with the fingerprint of its design. */
export function netlistText(design: Design): string {
  const { parts, nets } = netlistOf(circuitOf(design))
  const text = {
    format: 'nolvi-netlist',
    version: 1,
    fingerprint: fingerprint(design),
    parts,
    nets,
  }
  return JSON.stringify(text, null, 2) + '\n'
}

/** From point to point: net, from, to. What is on a rail goes to that rail. */
export function connectionRows(design: Design): [net: string, from: string, to: string][] {
  const { nets } = netlistOf(circuitOf(design))
  const at = ({ ref, terminal }: Terminal) => `${ref} ${terminal}`
  return nets.flatMap(({ name, terminals }) => {
    const ends = terminals.filter(t => t.ref !== 'rail').map(at)
    if (terminals.length > ends.length)
      return ends.map((end): [string, string, string] => [name, end, name])
    return ends.slice(1).map((end, i): [string, string, string] => [name, ends[i] ?? '', end])
  })
}

/** The connections as CSV (RFC 4180), to tick while soldering; the fingerprint below. */
export function connectionsCsv(design: Design): string {
  return csv(
    ['net', 'from', 'to', 'done'],
    [
      ...connectionRows(design).map(row => [...row, '']),
      ['', 'fingerprint', fingerprint(design), ''],
    ],
  )
}

export interface RuleBreach {
  rule: 'dangling' | 'tied' | 'undriven' | 'no diode' | 'no pull' | 'wrong way'
  words: string
}

const WINDS: readonly Part['symbol'][] = ['coil', 'solenoid', 'motor']
const CONTACTS: readonly Part['symbol'][] = ['push', 'lever', 'float']

/** What is wrong with a circuit: empty where it keeps all rules. */
export function breaches(circuit: Circuit): RuleBreach[] {
  const rows = rowsOf(circuit)
  const parts = rows.flatMap(r => r.parts)
  const { nets } = netlistOf(circuit)
  const out: RuleBreach[] = rows.flatMap(r =>
    r.hazards.map(words => ({ rule: 'wrong way' as const, words })),
  )
  for (const { name, terminals } of nets) {
    if (terminals.length < 2)
      out.push({ rule: 'dangling', words: `${name} leads from ${terminals[0]?.ref ?? ''} nowhere` })
    const drivers = terminals.filter(t => t.does === 'drives')
    const rail = terminals.some(t => t.does === 'feeds')
    if (drivers.length > 1 && !rail)
      out.push({ rule: 'tied', words: `${name} ties ${drivers.map(d => d.ref).join(' and ')}` })
    const board = drivers.find(d => d.ref === 'board')
    if (board && rail)
      out.push({ rule: 'tied', words: `${name} ties ${board.terminal} to a supply` })
  }
  out.push(...undriven(parts, nets))
  for (const part of parts.filter(needsDiode(parts)))
    if (!parts.some(p => isDiodeAcross(p, part)))
      out.push({ rule: 'no diode', words: `${part.ref} has no diode across it` })
  for (const row of rows)
    for (const part of row.parts.filter(p => CONTACTS.includes(p.symbol)))
      if (!isPulled(row, part))
        out.push({ rule: 'no pull', words: `${part.ref} has nothing that pulls its line` })
  return out
}

/** Nets that no rail and no output reaches, through whatever parts. */
function undriven(parts: readonly Part[], nets: Netlist['nets']): RuleBreach[] {
  const reached = new Set(
    nets
      .filter(n => n.terminals.some(t => t.does !== 'reads' && t.does !== 'passes'))
      .map(n => n.name),
  )
  for (let grows = true; grows;) {
    grows = false
    for (const { nets: of } of parts) {
      const all = Object.values(of)
      if (!all.some(n => reached.has(n))) continue
      for (const net of all) {
        if (reached.has(net)) continue
        reached.add(net)
        grows = true
      }
    }
  }
  return nets
    .filter(n => !reached.has(n.name))
    .map(n => ({ rule: 'undriven', words: `nothing drives ${n.name}` }))
}

/** What winds and is switched by a transistor; behind a chip or an array the diodes are inside. */
function needsDiode(parts: readonly Part[]): (part: Part) => boolean {
  const switched = new Set(
    parts.flatMap(p => [p.nets['c'], p.nets['d']].filter(net => net !== undefined)),
  )
  return part =>
    WINDS.includes(part.symbol) && Object.values(part.nets).some(net => switched.has(net))
}

/** Its cathode to the supply side, so that it carries the current on when the switch opens. */
function isDiodeAcross(part: Part, of: Part): boolean {
  const back = { diode: ['1', '2'], diodeRight: ['2', '1'] } as const
  if (part.symbol !== 'diode' && part.symbol !== 'diodeRight') return false
  const [cathode, anode] = back[part.symbol].map(t => part.nets[t])
  const ends = Object.values(of.nets)
  return (
    cathode !== anode
    && ends.includes(cathode ?? '')
    && ends.includes(anode ?? '')
    && (cathode ?? '').startsWith('+')
  )
}

function isPulled(row: Row, part: Part): boolean {
  const line = Object.values(part.nets).find(net => net !== GROUND) ?? ''
  return (
    row.pins.some(p => p.net === line && p.does === 'pulls')
    || row.parts.some(
      p =>
        p.symbol === 'resistor'
        && Object.values(p.nets).includes(line)
        && Object.values(p.nets).some(net => net.startsWith('+')),
    )
  )
}
