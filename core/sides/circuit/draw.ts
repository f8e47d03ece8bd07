/** A circuit as sheets of SVG, A4 across, to print and to solder from. */
import { fingerprint } from '../../design/fingerprint'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { html } from '../escape'
import { circuitOf } from './circuit'
import { connectionRows } from './netlist'
import { GROUND, placesOf, type Part, type Row, type Sheet, type Wire } from './model'
import { symbolSvg, type Point } from './symbols'
import { first, last, nth } from '../../units/lists'

const WIDTH = 1240
const HEIGHT = 877
const TOP = 96
const FOOT = 60
const BOARD = { left: 40, width: 250 }
const PIN = BOARD.left + BOARD.width
const NOTE = 18

/** How far a row reaches above and below its first pin, notes included. */
export function reachOf(row: Row): { up: number; down: number } {
  const ys = [
    ...row.pins.map(p => p.y),
    ...row.parts.flatMap(p => [
      ...Object.values(placesOf(p)).map(([, y]) => y),
      p.at[1] + (p.box?.height ?? 0),
      p.at[1],
      ...(p.label ? [p.label.at[1]] : []),
      ...(p.symbol === 'motor' || p.symbol === 'lamp' ? [p.at[1] - 24, p.at[1] + 24] : []),
    ]),
    ...row.wires.flatMap(w => w.points.map(([, y]) => y)),
    ...row.flags.map(f => f.at[1] + (f.net === GROUND ? 24 : -28)),
  ]
  const words = row.notes.length + row.hazards.length
  return {
    up: Math.max(30, -Math.min(...ys) + 14),
    down: Math.max(30, Math.max(...ys) + 14) + words * NOTE,
  }
}

/**
 * All sheets of a design of one controller; a function with many rows takes several. `cropped`: as
 * large as what is drawn, for a screen; else A4.
 */
export function circuitSheets(
  design: Design,
  { cropped = false }: { cropped?: boolean } = {},
): { title: string; svg: string }[] {
  const { sheets } = circuitOf(design)
  const pages = cropped ? sheets : sheets.flatMap(paged)
  return pages.map((sheet, i) => ({
    title: sheet.title,
    svg: sheetSvg(design, sheet, `circuit ${i + 1} of ${pages.length}`, cropped),
  }))
}

/** Rows on as many sheets as they need. */
function paged(sheet: Sheet): Sheet[] {
  const room = HEIGHT - TOP - FOOT
  const pages: Sheet[] = []
  let used = Infinity
  for (const row of sheet.rows) {
    const { up, down } = reachOf(row)
    if (used + up + down > room) {
      pages.push({ title: sheet.title, rows: [] })
      used = 0
    }
    pages.at(-1)?.rows.push(row)
    used += up + down
  }
  return pages
}

const STYLE = `text{font-family:"Atkinson Hyperlegible Next Variable",sans-serif;fill:#24211d;font-size:13px}.b{font-weight:700;font-size:14px}.s{font-size:12px;fill:#4d473f}.h{font-size:20px;font-weight:700}.symbol,.wire{fill:none;stroke:#24211d;stroke-width:1.6}.symbol text{stroke:none;fill:#24211d}.symbol rect,.symbol circle{fill:#fff}.thin{stroke-width:.8;fill:none!important}.closed{stroke-width:4}.supply{stroke:#bf3f22;fill:none;stroke-width:2}.supplyname{fill:#bf3f22;font-weight:700}.dot{fill:#24211d}.rule{stroke:#ded5c4}.danger{fill:#bf3f22;font-weight:700}.part:hover .symbol,.part:focus .symbol{stroke:#2b4a6f}`

/** How far to the right a row is drawn, labels included. */
function rightOf(row: Row): number {
  const words = [...row.notes, ...row.hazards].map(n => 24 + n.length * 6)
  const drawn = row.parts.map(p => {
    const { at, anchor, text } = p.label ?? { at: p.at, anchor: 'start', text: '' }
    const share = { start: 1, middle: 0.5, end: 0 }[anchor]
    return Math.max(p.at[0] + (p.box?.width ?? 76), at[0] + share * text.length * 7)
  })
  return PIN + Math.max(0, ...words, ...drawn)
}

function sheetSvg(design: Design, sheet: Sheet, which: string, cropped: boolean): string {
  let y = TOP
  const rows = sheet.rows.map((row, i) => {
    const { up, down } = reachOf(row)
    const at = y + up
    y += up + down
    const rule = i === 0 ? '' : `<path d="M${PIN + 20} ${at - up}H${WIDTH - 40}" class="rule"/>`
    return rule + rowSvg(design, row, at, y)
  })
  const width = cropped ? Math.max(860, ...sheet.rows.map(rightOf)) + 40 : WIDTH
  const height = cropped ? y + FOOT : HEIGHT
  const board = sheet.rows.some(r => r.pins.length)
    ? `<rect x="${BOARD.left}" y="${TOP - 8}" width="${BOARD.width}" height="${y - TOP + 8}" rx="4" fill="#fbf8f1" stroke="#24211d" stroke-width="2"/><text x="${BOARD.left + 14}" y="${TOP + 12}" class="b">${html(cut(boardOf(design).name, 27))}</text>`
    : ''
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" role="img" aria-label="${html(`Circuit of ${design.name}: ${sheet.title}`)}">
<style>${STYLE}</style>
<rect width="100%" height="100%" fill="#fff"/>
<text x="${BOARD.left}" y="44" class="h">${html(`${design.name}: ${sheet.title}`)}</text><text x="${BOARD.left}" y="66" class="s">${which}, table ${fingerprint(design)}; values from the sums; all grounds marked alike are joined</text>
${board}
${rows.join('\n')}
<text x="${BOARD.left}" y="${height - 22}" class="s">Mains: only in a closed box, wired by a qualified person to the local code. Make it without power; measure before it is joined to the board.</text>
</svg>
`
}

function rowSvg(design: Design, row: Row, y: number, bottom: number): string {
  const x = PIN
  const pins = row.pins.map(
    p =>
      `<circle cx="${x}" cy="${y + p.y}" r="4.5" fill="#fff" stroke="#24211d" stroke-width="2"/><text x="${x - 12}" y="${y + p.y + 5}" text-anchor="end" class="b">${html(p.label)}</text><text x="${BOARD.left + 14}" y="${y + p.y + 5}" class="s">${html(cut(p.what, 30))}</text>`,
  )
  const title = row.pins.length
    ? ''
    : `<text x="${BOARD.left}" y="${y + 5}" class="b">${html(row.title)}</text>`
  const words = [...row.hazards, ...row.notes].map((n, i, all) => {
    const at = bottom - (all.length - i) * NOTE + 4
    return `<text x="${x + 24}" y="${at}" class="${i < row.hazards.length ? 'danger' : 's'}">${html(n)}</text>`
  })
  return `<g>${pins.join('')}${title}<g transform="translate(${x} ${y})">${row.wires
    .map(w => wireSvg(design, row, w))
    .join('')}${dots(row)}${row.links
    .map(
      ({ from, to }) =>
        `<path d="M${from.join(' ')}L${to.join(' ')}" class="wire" stroke-dasharray="5 4"/>`,
    )
    .join('')}${row.flags.map(f => flagSvg(f.net, f.at)).join('')}${row.parts
    .map(p => partSvg(row, p))
    .join('')}</g>${words.join('')}</g>`
}

function wireSvg(design: Design, row: Row, wire: Wire): string {
  const pin = row.pins.find(p => p.net === wire.net)
  // A style of its own: that of the class would win over an attribute.
  const colour = pin ? ` style="stroke:${design.wires[pin.wire]}"` : ''
  const path = `<path d="M${wire.points.map(p => p.join(' ')).join('L')}" class="wire"${colour}/>`
  if (wire.lead === undefined) return path
  const [[x1, y1], [x2]] = [first(wire.points), last(wire.points)]
  return `${path}<path d="M${x1 + 20} ${y1 + 7}H${x2 - 20}" stroke="${design.wires.contact}" stroke-width="2" stroke-dasharray="2 4"/><text x="${(x1 + x2) / 2}" y="${y1 + 22}" text-anchor="middle" class="s">${html(wire.lead)}</text>`
}

/** Where more than two ends of a net meet; a wire that goes on there counts twice. */
function dots(row: Row): string {
  const ends: Point[] = [
    ...row.parts.flatMap(p => Object.values(placesOf(p))),
    ...row.wires.flatMap(w => [first(w.points), last(w.points)]),
  ]
  const places = new Map(ends.map(at => [at.join(' '), at]))
  return [...places.values()]
    .filter(at => {
      const here = ends.filter(e => e[0] === at[0] && e[1] === at[1]).length
      return here + 2 * row.wires.filter(w => goesThrough(w, at)).length > 2
    })
    .map(([x, y]) => `<circle cx="${x}" cy="${y}" r="3.2" class="dot"/>`)
    .join('')
}

/** Whether a wire passes a place that is not one of its ends. */
export function goesThrough({ points }: Wire, [x, y]: Point): boolean {
  return points.some(([x2, y2], i) => {
    if (i === 0) return false
    const [x1, y1] = nth(points, i - 1)
    const last = i === points.length - 1
    if (x === x2 && y === y2) return !last
    if (x === x1 && y === y1) return false
    return x1 === x2
      ? x === x1 && y > Math.min(y1, y2) && y < Math.max(y1, y2)
      : y1 === y2 && y === y1 && x > Math.min(x1, x2) && x < Math.max(x1, x2)
  })
}

function flagSvg(net: string, [x, y]: Point): string {
  if (net === GROUND)
    return `<path d="M${x} ${y}v8M${x - 10} ${y + 8}h20M${x - 6} ${y + 12}h12M${x - 2} ${y + 16}h4" class="wire"/>`
  return `<path d="M${x} ${y}v-6M${x - 10} ${y - 6}h20" class="supply"/><text x="${x}" y="${y - 11}" text-anchor="middle" class="supplyname">${html(net.replace(/ load$/, ''))}</text>`
}

function partSvg(row: Row, part: Part): string {
  const label = part.label?.text
    ? `<text x="${part.label.at[0]}" y="${part.label.at[1]}" text-anchor="${part.label.anchor}">${html(part.label.text)}</text>`
    : ''
  const [pin] = row.pins
  // All of it can be pressed, also where nothing is drawn.
  const places = [part.at, ...Object.values(placesOf(part))]
  const [xs, ys] = [places.map(p => p[0]), places.map(p => p[1])]
  const [left, top] = [Math.min(...xs) - 12, Math.min(...ys) - 16]
  const hit = `<rect x="${left}" y="${top}" width="${Math.max(...xs) + 12 - left}" height="${Math.max(...ys) + 16 - top}" fill="transparent"/>`
  const need = pin ? ` data-need="${html(pin.needId)}"` : ''
  return `<g class="part" data-ref="${html(part.ref)}"${need}>${hit}${symbolSvg(part.symbol, part.at, part.down, part.box)}${label}<title>${html(`${part.ref}: ${part.words}${part.value ? `, ${part.value}` : ''}`)}</title></g>`
}

function cut(text: string, length: number): string {
  return text.length > length ? `${text.slice(0, length - 1)}…` : text
}

/** All sheets with the table of connections, to print on A4 across. */
export function circuitHtml(design: Design): string {
  const sheets = circuitSheets(design).map(s => `<section>${s.svg}</section>`)
  const rows = connectionRows(design).map(
    ([net, from, to]) =>
      `<tr><td>${html(net)}</td><td>${html(from)}</td><td>${html(to)}</td><td class="tick"></td></tr>`,
  )
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="nolvi-fingerprint" content="${fingerprint(design)}">
<title>${html(`Circuit of ${design.name}`)}</title>
<style>
@page{size:A4 landscape;margin:8mm}
body{margin:0;background:#fff;color:#24211d;font:10pt/1.35 "Atkinson Hyperlegible Next Variable",system-ui,sans-serif}
section{break-after:page}section svg{width:100%;height:auto;display:block}
table{border-collapse:collapse;margin:6mm}th,td{text-align:left;border-bottom:.2mm solid #c4baa8;padding:1.2mm 4mm 1.2mm 0}.tick{width:5mm;height:5mm;border:.3mm solid #24211d;padding:0}h2{margin:6mm 6mm 0}
</style>
</head>
<body>
${sheets.join('\n')}
<h2>${html(`${design.name}: from point to point`)}</h2>
<table><thead><tr><th>Net</th><th>From</th><th>To</th><th>Done</th></tr></thead><tbody>
${rows.join('\n')}
</tbody></table>
</body>
</html>
`
}
