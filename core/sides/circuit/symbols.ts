/**
 * Symbols of a circuit, after IEC 60617: where their terminals are, and how they are drawn. Drawn
 * across, the first terminal at the origin; turned down, the same goes from top to bottom.
 */
import { html } from '../escape'

export type Point = readonly [x: number, y: number]

/** A box with terminals of its own: a module, a chip, another board. */
export interface BoxShape {
  width: number
  height: number
  /** The first line is bold. */
  lines: readonly string[]
  terminals: Readonly<Record<string, Point>>
  /** Mains, by a qualified person: drawn heavy. */
  closed?: boolean
}

interface Shape {
  terminals: Readonly<Record<string, Point>>
  svg: string
}

const two = (length: number, svg: string): Shape => ({
  terminals: { 1: [0, 0], 2: [length, 0] },
  svg,
})
const lead = (from: number, to: number) => `<path d="M${from} 0H${to}"/>`
const LONG = 50
const resistorSvg = `${lead(0, 8)}<rect x="8" y="-6" width="34" height="12"/>${lead(42, LONG)}`
const coilSvg = `${lead(0, 12)}<rect x="12" y="-13" width="26" height="26"/><path d="M12 13L38 -13"/>${lead(38, LONG)}`
const blade = `${lead(0, 14)}<path d="M14 0L44 -14"/>${lead(46, 60)}`
const circle = (inner: string) =>
  `${lead(0, 8)}<circle cx="30" cy="0" r="22"/>${inner}${lead(52, 60)}`
const rays = '<path d="M18 -12l6 -7m0 0l-1 4m1 -4l-4 1M25 -12l6 -7m0 0l-1 4m1 -4l-4 1"/>'
const transistorLead = '<path d="M0 0H14M14 -13V13" />'

const SYMBOLS = {
  resistor: two(LONG, resistorSvg),
  thermistor: two(LONG, `${resistorSvg}<path d="M12 12L34 -12H40"/>`),
  fuse: two(
    LONG,
    `${lead(0, 8)}<rect x="8" y="-6" width="34" height="12"/>${lead(8, 42)}${lead(42, LONG)}`,
  ),
  capacitor: two(LONG, `${lead(0, 22)}<path d="M22 -11V11M28 -11V11"/>${lead(28, LONG)}`),
  /** 1: cathode, 2: anode. */
  diode: two(LONG, `${lead(0, 18)}<path d="M18 -9V9M18 0L33 -9V9Z"/>${lead(33, LONG)}`),
  /** 1: anode, 2: cathode. */
  diodeRight: two(LONG, `${lead(0, 17)}<path d="M32 -9V9M32 0L17 -9V9Z"/>${lead(32, LONG)}`),
  /** 1: anode, 2: cathode. */
  ledRight: two(LONG, `${lead(0, 17)}<path d="M32 -9V9M32 0L17 -9V9Z"/>${rays}${lead(32, LONG)}`),
  /** 1: cathode, 2: anode. */
  led: two(LONG, `${lead(0, 18)}<path d="M18 -9V9M18 0L33 -9V9Z"/>${rays}${lead(33, LONG)}`),
  coil: two(LONG, coilSvg),
  solenoid: two(
    LONG,
    `${lead(0, 10)}<path d="M10 0a5 6 0 0 1 10 0a5 6 0 0 1 10 0a5 6 0 0 1 10 0M10 -11H40"/>${lead(40, LONG)}`,
  ),
  contact: two(60, blade),
  push: two(60, `${blade}<path d="M29 -8V-20M21 -20H37"/>`),
  lever: two(60, `${blade}<path d="M29 -8V-20M24 -20H34V-25"/>`),
  float: two(60, `${blade}<circle cx="29" cy="-19" r="5"/><path d="M29 -14V-8"/>`),
  motor: two(60, circle('<text x="30" y="6" text-anchor="middle" class="b">M</text>')),
  lamp: two(60, circle('<path d="M14.4 -15.6L45.6 15.6M14.4 15.6L45.6 -15.6"/>')),
  heater: two(
    60,
    `${lead(0, 8)}<rect x="8" y="-9" width="44" height="18"/><path d="M19 -9V9M30 -9V9M41 -9V9"/>${lead(52, 60)}`,
  ),
  battery: two(LONG, `${lead(0, 19)}<path d="M19 -14V14M25 -7V7M31 -14V14"/>${lead(31, LONG)}`),
  /** Changeover, its common end to the right: `no` when it is energised, `nc` at rest. */
  changeoverBack: {
    terminals: { com: [60, 0], no: [0, -14], nc: [0, 14] },
    svg: `${lead(46, 60)}<path d="M46 0L13 11M0 14H15M0 -14H15"/>`,
  },
  npn: {
    terminals: { b: [0, 0], c: [26, -34], e: [26, 34] },
    svg: `${transistorLead}<path d="M14 -6L26 -16V-34M14 6L26 16V34M26 16l-8 -2m8 2l-3 -8"/><circle cx="18" cy="0" r="19" class="thin"/>`,
  },
  mosfet: {
    terminals: { g: [0, 0], d: [26, -34], s: [26, 34] },
    svg: '<path d="M0 0H10M10 -11V11M14 -14V-6M14 -4V4M14 6V14M14 -10H26V-34M14 10H26V34M14 0H26V10M14 0l6 -3m-6 3l6 3"/><circle cx="18" cy="0" r="19" class="thin"/>',
  },
  /** A light isolator: `a`, `k` of its lamp, `c`, `e` of its transistor. */
  isolator: {
    terminals: { a: [0, 0], k: [0, 44], c: [76, 0], e: [76, 44] },
    svg: '<rect x="8" y="-10" width="60" height="64"/><path d="M0 0H22V14M13 14H31L22 28ZM13 28H31M22 28V44H0M76 0H56V12L48 18M48 12V32M48 26L56 32V44H76M56 32l-6 -1m6 1l-2 -5M34 18h9m0 0l-3 -2m3 2l-3 2M34 25h9m0 0l-3 -2m3 2l-3 2"/>',
  },
  /** The same, with the anode of its lamp below: a pin draws its current. */
  isolatorBack: {
    terminals: { k: [0, 0], a: [0, 44], c: [76, 0], e: [76, 44] },
    svg: '<rect x="8" y="-10" width="60" height="64"/><path d="M0 0H22V14M13 28H31L22 14ZM13 14H31M22 28V44H0M76 0H56V12L48 18M48 12V32M48 26L56 32V44H76M56 32l-6 -1m6 1l-2 -5M34 18h9m0 0l-3 -2m3 2l-3 2M34 25h9m0 0l-3 -2m3 2l-3 2"/>',
  },
} satisfies Record<string, Shape>

export type SymbolKind = keyof typeof SYMBOLS | 'box'

/** Terminals of a symbol, across or turned down, from its origin. */
export function terminalsOf(
  kind: SymbolKind,
  down: boolean,
  box: BoxShape | null,
): Record<string, Point> {
  const terminals: Readonly<Record<string, Point>> =
    kind === 'box' ? (box?.terminals ?? {}) : SYMBOLS[kind].terminals
  return Object.fromEntries(
    Object.entries(terminals).map(([name, [x, y]]) => [name, down ? ([-y, x] as const) : [x, y]]),
  )
}

/** A symbol at its place, as SVG. */
export function symbolSvg(
  kind: SymbolKind,
  [x, y]: Point,
  down: boolean,
  box: BoxShape | null,
): string {
  const turn = down ? ' rotate(90)' : ''
  const drawn = kind === 'box' ? boxSvg(box) : SYMBOLS[kind].svg
  // Letters stand upright whichever way their symbol is turned.
  const inner = down
    ? drawn.replace('<text x="30" y="6"', '<text transform="rotate(-90 30 0)" x="30" y="5"')
    : drawn
  return `<g transform="translate(${x} ${y})${turn}" class="symbol">${inner}</g>`
}

function boxSvg(box: BoxShape | null): string {
  if (!box) return ''
  const top = box.height / 2 - (box.lines.length - 1) * 8 + 4
  // Names of terminals stand to the left; where none stand to the right, the words make room.
  const named = Object.entries(box.terminals).filter(([name]) => /^[a-z]/.test(name))
  const left = named.some(([, [x]]) => x <= 0)
  const right = named.some(([, [x]]) => x >= box.width)
  const middle = box.width * (left && !right ? 0.6 : 0.5)
  const words = box.lines.map(
    (line, i) =>
      `<text x="${middle}" y="${top + i * 16}" text-anchor="middle" class="${i === 0 ? 'b' : 's'}">${html(line)}</text>`,
  )
  const names = Object.entries(box.terminals).flatMap(([name, [x, y]]) => {
    if (name.startsWith('+') || name === 'GND' || (x > 0 && x < box.width)) return []
    const [at, anchor] = x <= 0 ? [6, 'start'] : [box.width - 6, 'end']
    return [`<text x="${at}" y="${y + 4}" text-anchor="${anchor}" class="s">${html(name)}</text>`]
  })
  return `<rect width="${box.width}" height="${box.height}" rx="2"${box.closed ? ' class="closed"' : ''}/>${words.join('')}${names.join('')}`
}
