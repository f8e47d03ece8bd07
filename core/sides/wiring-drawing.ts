/**
 * Wiring drawing as SVG: the board with the pins in use, one line to each part, mains parts as a
 * closed, labelled box. Lines differ by dash as well as by colour, so that it reads printed in
 * black and white.
 */
import { fingerprint } from '../design/fingerprint'
import { boardOf, needs, pinLabel, type Need } from '../design/pins'
import type { Design } from '../design/schema'
import { html } from './escape'
import { wiringRows } from './wiring-sheet'

const ROW = 46
const TOP = 70
const WIDTH = 1000
const DASHES: Record<Need['use']['as'], string> = {
  output: '',
  pwm: '',
  contact: '7 4',
  sense: '2 4',
  'serial-in': '12 3 2 3',
  'serial-out': '12 3 2 3',
  analog: '2 4',
  'wire-in': '12 3 2 3',
  'wire-out': '12 3 2 3',
  bus: '12 3 2 3',
}
/** Whose colour a line takes. */
const WIRE: Record<Need['use']['as'], keyof Design['wires']> = {
  output: 'output',
  pwm: 'output',
  contact: 'contact',
  sense: 'sense',
  'serial-in': 'serial',
  'serial-out': 'serial',
  analog: 'sense',
  'wire-in': 'serial',
  'wire-out': 'serial',
  bus: 'serial',
}

/** The wiring as an SVG drawing, a line for each need of a pin. */
export function wiringSvg(design: Design): string {
  const all = needs(design)
  const rows = wiringRows(design)
  const height = TOP + Math.max(1, all.length) * ROW + 60
  const lines = all.map((need, i) => {
    const y = TOP + i * ROW + ROW / 2
    const row = rows[i]
    const load = need.line ? design.loads.find(l => l.id === need.loadId) : undefined
    const front = need.id.startsWith('front:')
    const mains = load?.wiring.load?.mains === true
    const ordinary = front ? 2 : 1.3
    return [
      `<line x1="250" y1="${y}" x2="430" y2="${y}" stroke="${design.wires[WIRE[need.use.as]]}" stroke-width="2"${DASHES[need.use.as] ? ` stroke-dasharray="${DASHES[need.use.as]}"` : ''}/>`,
      `<circle cx="250" cy="${y}" r="4" fill="#24211d"/><text x="240" y="${y + 5}" text-anchor="end" class="m">${html(row?.pin ?? '')}</text><text x="262" y="${y - 6}" class="s">${need.chip >= 0 ? `chip ${need.chip}` : 'no pin'}</text>`,
      `<rect x="430" y="${y - 18}" width="545" height="36" rx="3" fill="${front ? '#f5f1e8' : '#fff'}" stroke="#24211d" stroke-width="${mains ? 3 : ordinary}"/>`,
      `<text x="442" y="${y - 3}" class="b">${html(cut(need.what, 60))}${mains ? ' - MAINS, closed box' : ''}</text><text x="442" y="${y + 12}" class="s">${html(cut(row?.through ?? '', 92))}</text>`,
    ].join('')
  })
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}" width="${WIDTH}" height="${height}" role="img" aria-label="${html(`Wiring of ${design.name}`)}">
<style>text{font-family:sans-serif;fill:#24211d}.b{font-size:14px;font-weight:700}.s{font-size:11px}.m{font-family:monospace;font-size:15px;font-weight:700}.h{font-size:18px;font-weight:700}</style>
<rect width="100%" height="100%" fill="#fff"/>
<text x="25" y="34" class="h">${html(`${design.name} - wiring of the ${boardOf(design).name}`)}</text><text x="25" y="54" class="s">fingerprint ${fingerprint(design)}; solid: to a driver, dashed: from a contact, dash-dot: serial, dotted: sensed line. All grounds are joined.</text>
<rect x="25" y="${TOP}" width="225" height="${Math.max(1, all.length) * ROW}" rx="4" fill="#f5f1e8" stroke="#24211d" stroke-width="2"/>
${lines.join('\n')}
<text x="25" y="${height - 24}" class="s">Mains, heat and motors: wiring by a qualified person, to the local code, fused and enclosed. Pins: ${html(
    all
      .filter(n => n.chip >= 0)
      .map(n => pinLabel(design, n.chip))
      .join(' '),
  )}</text>
</svg>
`
}

function cut(text: string, length: number): string {
  return text.length > length ? `${text.slice(0, length - 1)}…` : text
}
