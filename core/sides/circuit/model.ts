/**
 * A circuit: parts with their terminals on nets, and where everything is drawn. A sheet is a
 * function of the board; a row is what hangs on one of its pins, or on a few that belong together.
 * Coordinates are those of the row: its first pin at the origin, x to the right, y down.
 */
import type { PinUse } from '../../boards/hazards'
import type { Design } from '../../design/schema'
import { terminalsOf, type BoxShape, type Point, type SymbolKind } from './symbols'

export const GROUND = 'GND'

export interface Part {
  /** "R1", "K1": by itself in the whole circuit. */
  ref: string
  symbol: SymbolKind
  /** "1 kΩ", "12 V, 400 Ω". */
  value: string
  /** What it is called in the parts list. */
  words: string
  at: Point
  down: boolean
  box: BoxShape | null
  /** Terminal to net. */
  nets: Readonly<Record<string, string>>
  /** Terminals that drive their net: outputs of modules. */
  drives: readonly string[]
  label: { text: string; at: Point; anchor: 'start' | 'middle' | 'end' } | null
}
export interface Wire {
  net: string
  points: readonly Point[]
  /** A lead that leaves the board's neighbourhood; drawn dotted below, with its length. */
  lead?: string
}
/** Supply or ground. */
export interface Flag {
  net: string
  at: Point
}
export interface Pin {
  needId: string
  label: string
  what: string
  net: string
  y: number
  /** It drives, it is read, or it is pulled up inside and read. */
  does: 'drives' | 'reads' | 'pulls'
  /** Whose colour its wire takes. */
  wire: keyof Design['wires']
}
/** Whose colour a wire takes, by what its pin is for. */
export const WIRE_OF: Record<PinUse['as'], Pin['wire']> = {
  output: 'output',
  pwm: 'output',
  contact: 'contact',
  sense: 'sense',
  analog: 'sense',
  'serial-in': 'serial',
  'serial-out': 'serial',
  'wire-in': 'serial',
  'wire-out': 'serial',
  bus: 'serial',
}
export interface Row {
  title: string
  pins: Pin[]
  parts: Part[]
  wires: Wire[]
  flags: Flag[]
  /** Dashed: coil to contact, board to closed box. */
  links: { from: Point; to: Point }[]
  notes: string[]
  /** Something is wrong here. */
  hazards: string[]
}
export interface Sheet {
  title: string
  rows: Row[]
}
export interface Circuit {
  sheets: Sheet[]
}

/** Absolute places of the terminals of a part, within its row. */
export function placesOf(part: Part): Record<string, Point> {
  return Object.fromEntries(
    Object.entries(terminalsOf(part.symbol, part.down, part.box)).map(([name, [x, y]]) => [
      name,
      [part.at[0] + x, part.at[1] + y] as const,
    ]),
  )
}

/** Numbers parts by their letter, in the order in which they are drawn. */
export class Names {
  private readonly last = new Map<string, number>()
  private nets = 0

  ref(letter: string): string {
    const next = (this.last.get(letter) ?? 0) + 1
    this.last.set(letter, next)
    return `${letter}${next}`
  }

  /** A net between parts that has no name of its own. */
  net(): string {
    return `N${++this.nets}`
  }
}

interface Extra {
  down?: boolean
  value?: string
  words?: string
  label?: string
  drives?: readonly string[]
  /** Where the label stands; left out: above, or to the right of what is turned down. */
  side?: 'above' | 'below' | 'left' | 'right'
}

/** Makes a row: each call puts a part or a wire at its place. */
export class RowMaker {
  readonly row: Row

  constructor(
    readonly names: Names,
    title: string,
  ) {
    this.row = {
      ...{ title, pins: [], parts: [], wires: [], flags: [], links: [] },
      ...{ notes: [], hazards: [] },
    }
  }

  pin(pin: Pin): this {
    this.row.pins.push(pin)
    return this
  }

  /** A part of two terminals from `at`; returns its reference. */
  two(symbol: SymbolKind, letter: string, at: Point, nets: [string, string], extra: Extra): string {
    return this.part(symbol, letter, at, { 1: nets[0], 2: nets[1] }, extra)
  }

  part(
    symbol: SymbolKind,
    letter: string,
    at: Point,
    nets: Record<string, string>,
    extra: Extra = {},
  ): string {
    const ref = this.names.ref(letter)
    const { down = false, value = '', words = symbol, drives = [] } = extra
    const text = extra.label ?? (value === '' ? ref : `${ref} ${value}`)
    const label = { text, ...labelPlace(symbol, at, down, extra.side) }
    this.row.parts.push({ ref, symbol, value, words, at, down, box: null, nets, drives, label })
    return ref
  }

  box(
    letter: string,
    at: Point,
    box: BoxShape,
    nets: Record<string, string>,
    extra: Pick<Extra, 'words' | 'value' | 'drives'> = {},
  ): string {
    const ref = this.names.ref(letter)
    const { words = box.lines[0] ?? '', value = '', drives = [] } = extra
    const [first = '', ...rest] = box.lines
    const named = { ...box, lines: [box.closed ? first : `${ref} ${first}`, ...rest] }
    this.row.parts.push({
      ...{ ref, symbol: 'box', value, words, at, down: false, box: named, nets, drives },
      label: null,
    })
    return ref
  }

  wire(net: string, ...points: Point[]): this {
    this.row.wires.push({ net, points })
    return this
  }

  lead(net: string, meters: string, ...points: Point[]): this {
    this.row.wires.push({ net, points, lead: meters })
    return this
  }

  flag(net: string, at: Point): this {
    this.row.flags.push({ net, at })
    return this
  }

  ground(at: Point): this {
    return this.flag(GROUND, at)
  }

  link(from: Point, to: Point): this {
    this.row.links.push({ from, to })
    return this
  }

  note(...words: string[]): this {
    this.row.notes.push(...words.filter(w => w !== ''))
    return this
  }
}

/** How far a symbol reaches beside its axis, where that is more than a resistor does. */
const BESIDE: Partial<Record<SymbolKind, number>> = {
  ...{ coil: 13, solenoid: 11, motor: 22, lamp: 22, contact: 14, changeoverBack: 26 },
  ...{ push: 22, lever: 26, float: 25, led: 20, ledRight: 20, heater: 9, diodeRight: 9 },
}

function labelPlace(
  symbol: SymbolKind,
  [x, y]: Point,
  down: boolean,
  side: Extra['side'] = down ? 'right' : 'above',
): { at: Point; anchor: 'start' | 'middle' | 'end' } {
  const beside = BESIDE[symbol] ?? 7
  switch (side) {
    case 'above':
      return { at: [x + 27, y - 6 - beside], anchor: 'middle' }
    case 'below':
      return { at: [x + 27, y + 15 + beside], anchor: 'middle' }
    case 'left':
      return { at: [x - 6 - beside, y + 29], anchor: 'end' }
    case 'right':
      return { at: [x + 8 + beside, y + 29], anchor: 'start' }
  }
}
