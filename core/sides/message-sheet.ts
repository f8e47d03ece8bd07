/** The message sheet: what every code means on every link, to print and as CSV (RFC 4180). */
import { linkTitle } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import type { Auth, Design, Link, LinkReading } from '../design/schema'
import { readingText, restingRaw } from '../controller/readings'
import { readingWords, unitOf } from '../design/items'
import { spokenValues, valueWords } from '../design/values'
import { shownWire, wireOf } from '../design/wire'
import { hexText } from '../bytes/text'
import { codeUses, numberWords } from '../messages/clashes'
import { readingWire } from '../messages/readings'
import { reportText, rows, streams } from '../messages/table'
import { numberCodes } from '../messages/places'
import { csv } from './csv'
import { html } from './escape'
import { speaksBytes, speaksRoutes } from '../design/links/traits'
import { carriageOf } from '../links/kinds/rows'
import { dialectRow } from '../design/dialects/rows'

export interface SheetRow {
  link: string
  direction: 'to the board' | 'from the board'
  text: string
  hex: string
  means: string
  when: string
}

/** Every message of every link, a row each. */
export function sheetRows(design: Design): SheetRow[] {
  return design.links.flatMap(link => linkRows(design, link))
}

function linkRows(design: Design, link: Link): SheetRow[] {
  return [...commandRows(design, link), ...reportRows(design, link), ...readingRows(design, link)]
}

/** The message sheet as CSV, with the fingerprint below. */
export function messageCsv(design: Design): string {
  return csv(
    ['link', 'direction', 'text', 'hex', 'means', 'when'],
    [
      ...sheetRows(design).map(r => [r.link, r.direction, r.text, r.hex, r.means, r.when]),
      ['', '', '', '', 'fingerprint', fingerprint(design)],
    ],
  )
}

/** The message sheet as a page to print. */
export function messageHtml(design: Design): string {
  const tables = design.links.map(link => {
    const lines = linkRows(design, link)
    // Routes have no bytes of their own.
    const bytes = lines.some(r => r.hex)
    const cells = (r: SheetRow) =>
      `<td class="way">${html(r.direction)}</td><td><code>${html(r.text)}</code></td>${bytes ? `<td><code>${html(r.hex)}</code></td>` : ''}<td>${html(r.means)}</td><td>${html(r.when)}</td>`
    return `<h2>${html(linkTitle(design, link))}</h2>
<p>${html(linkWords(design, link))}${link.auth.kind === 'none' ? '' : `; ${html(AUTH_WORDS[link.auth.kind])}`}</p>
<table><thead><tr><th>Direction</th><th>Text</th>${bytes ? '<th>Bytes (hex)</th>' : ''}<th>Means</th><th>When</th></tr></thead><tbody>
${lines.map(r => `<tr>${cells(r)}</tr>`).join('\n')}
</tbody></table>`
  })
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="nolvi-fingerprint" content="${fingerprint(design)}"><link rel="icon" href="data:,"><title>${html(`Messages of ${design.name}`)}</title>
<style>@page{margin:14mm}body{font:14px/1.4 system-ui,sans-serif;color:#24211d;background:#fff;max-width:60rem;margin:2rem auto;padding:0 1rem}h1{font-size:1.4rem;margin:0}h2{font-size:1.1rem;margin:1.6rem 0 .2rem}p{color:#655e53;margin:.2rem 0 .6rem}table{border-collapse:collapse;width:100%}th,td{text-align:left;padding:.3rem .6rem .3rem 0;border-bottom:1px solid #c4baa8;vertical-align:top}h2,h2+p{break-after:avoid}.way{white-space:nowrap}code{font-family:ui-monospace,monospace;font-weight:700}@media print{body{margin:0;padding:0;font-size:12px}tr{break-inside:avoid}}</style></head>
<body><h1>Messages of ${html(design.name)}</h1><p>${html(design.place)} · fingerprint <code>${fingerprint(design)}</code>: every side of this design carries the same one.</p>
${tables.join('\n')}
<p>Both sides are made from one design. After a change, take all sides away again.</p></body></html>
`
}

function anyTime(link: Link): string {
  return speaksRoutes(link) ? 'at any time' : 'at any time, answered with the whole state'
}

function commandRows(design: Design, link: Link): SheetRow[] {
  const numbers = numberCodes(design, link).map(of =>
    row(
      design,
      link,
      'to the board',
      wireOf(link, of.code, 'command'),
      numberWords(of),
      'when asked for',
    ),
  )
  const named = codeUses(design, link).map(use =>
    row(
      design,
      link,
      'to the board',
      wireOf(link, use.code, 'command'),
      use.what,
      use.loadId ? 'when asked for' : anyTime(link),
    ),
  )
  return [...named, ...numbers]
}

function reportRows(design: Design, link: Link): SheetRow[] {
  const pushes = speaksBytes(link) || streams(link)
  return rows(design, link).flatMap(({ load, message }) =>
    spokenValues(load.output).map(value => {
      const when = [
        message.ack ? 'answer to its command' : '',
        message.change && pushes ? 'every change' : '',
        link.onConnect ? 'on connect' : '',
        'when asked',
      ]
        .filter(Boolean)
        .join(', ')
      return row(
        design,
        link,
        'from the board',
        reportText(link, load, message, value),
        `${load.name} is ${valueWords(load.output, value)}`,
        when,
      )
    }),
  )
}

/** The value is shown as an example: at what the sensor rests. */
function readingRows(design: Design, link: Link): SheetRow[] {
  const pushes = speaksBytes(link) || streams(link)
  return (link.readings as LinkReading[]).flatMap(r => {
    const sensor = design.sensors.find(s => s.id === r.sensorId)
    if (!sensor) return []
    const text = readingText(sensor, restingRaw(sensor))
    const moved = r.deadBand ? `moved by ${r.deadBand} ${unitOf(sensor)}`.trim() : 'every change'
    const when = [
      ...(pushes
        ? [`${moved}, at most every ${r.leastMs} ms`, r.everyMs ? `every ${r.everyMs} ms` : '']
        : []),
      link.onConnect ? 'on connect' : '',
      'when asked',
    ]
      .filter(Boolean)
      .join(', ')
    return [
      row(
        design,
        link,
        'from the board',
        readingWire(link, r, text),
        `${sensor.name}: ${readingWords(sensor, text)}, for example`,
        when,
      ),
    ]
  })
}

function row(
  design: Design,
  link: Link,
  direction: SheetRow['direction'],
  text: string,
  means: string,
  when: string,
): SheetRow {
  const hex = speaksRoutes(link) ? '' : hexText(text)
  return { link: linkTitle(design, link), direction, text: shownWire(link, text), hex, means, when }
}

function linkWords(design: Design, link: Link): string {
  const medium = carriageOf(link).setUp(link, design)
  return speaksBytes(link) ? `${medium}; ${dialectRow(link.dialect).words}` : medium
}

const AUTH_WORDS: Record<Auth['kind'], string> = {
  none: '',
  word: 'a fixed word stands behind every command',
  pin: 'a PIN stands behind every command',
  counter:
    'a counter and the first bytes of HMAC-SHA-256 over counter (four bytes, most significant first) and command stand behind every command; each counter is taken once',
  challenge:
    'a number that the board handed out, and the first bytes of HMAC-SHA-256 over it (four bytes, most significant first) and command stand behind every command; a refusal hands one out, each is good once and for a while',
  time: 'the time of day, s since 1970, and the first bytes of HMAC-SHA-256 over it (four bytes, most significant first) and command stand behind every command',
}
