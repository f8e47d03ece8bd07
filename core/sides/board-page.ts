/**
 * The page of a board: an HTML template with the state filled in as it is served, for whoever opens
 * its address in a browser. No program runs in it, so it also works where none may; a panel page
 * does more.
 */
import type { Design, HttpLink, Load } from '../design/schema'
import { numbersOf, valuesOf, valueWords } from '../design/values'
import { unitOf } from '../design/items'
import { codeOf } from '../messages/setpoints'
import { askedBy, rows } from '../messages/table'
import { wishLabel } from '../messages/clashes'
import { html } from './escape'

/** What is so when the page is asked for. `reading`: "" = not known yet. */
export interface PageState {
  value(loadId: string): string
  reading(sensorId: string): string
}

const PLACES = /\{([a-z]+)(?: ([a-z][a-z0-9-]*))?\}/g

/** What may stand in a template, in the words of help. */
export const PLACE_HELP: readonly (readonly [string, string])[] = [
  ['{name}', 'name of the design'],
  ['{place}', 'where it is'],
  ['{state}', 'a table of all loads and readings of the link'],
  ['{load ID}', 'how a load is'],
  ['{keys ID}', 'what a load can be asked for; how it is stands out'],
  ['{reading ID}', 'what a sensor tells, with its unit'],
  ['{scene ID}', 'a key for a scene'],
]

/**
 * A piece of a page. `value`: one of two texts, by whether the load has that value. `number`: a
 * value that has no name, between two texts. `reading`: what a sensor tells, and its unit.
 */
export type PagePiece =
  | { kind: 'text'; text: string }
  | { kind: 'value'; loadId: string; value: string; is: string; otherwise: string }
  | { kind: 'number'; loadId: string; before: string; after: string }
  | { kind: 'reading'; sensorId: string; unit: string }

/** What is said of a sensor that told nothing yet. */
export const NOT_KNOWN = 'not known yet'

/** The page as it is served. */
export function boardPage(design: Design, link: HttpLink, state: PageState): string {
  return pagePieces(design, link)
    .map(piece => pieceText(design, piece, state))
    .join('')
}

function pieceText(design: Design, piece: PagePiece, state: PageState): string {
  switch (piece.kind) {
    case 'text':
      return piece.text
    case 'value':
      return state.value(piece.loadId) === piece.value ? piece.is : piece.otherwise
    case 'number': {
      const output = design.loads.find(l => l.id === piece.loadId)?.output
      const value = state.value(piece.loadId)
      return output && valuesOf(output).includes(value)
        ? ''
        : `${piece.before}${value}${piece.after}`
    }
    case 'reading': {
      const text = state.reading(piece.sensorId)
      if (text === '') return NOT_KNOWN
      return html(text) + (Number.isFinite(Number(text)) ? piece.unit : '')
    }
  }
}

/** A template in pieces. Places that are not known stay as they are. */
export function pagePieces(design: Design, link: HttpLink): PagePiece[] {
  const template = link.page?.template ?? ''
  const pieces: PagePiece[] = []
  let at = 0
  for (const found of template.matchAll(PLACES)) {
    const [all, what = '', id = ''] = found
    if (placeTrouble(design, link, what, id) !== '') continue
    pieces.push(text(template.slice(at, found.index)), ...filledIn(design, link, what, id))
    at = found.index + all.length
  }
  return joined([...pieces, text(template.slice(at))])
}

const text = (words: string): PagePiece => ({ kind: 'text', text: words })

/** Texts that follow one another are one. */
function joined(pieces: readonly PagePiece[]): PagePiece[] {
  const all: PagePiece[] = []
  for (const piece of pieces) {
    const last = all.at(-1)
    if (piece.kind === 'text' && last?.kind === 'text') last.text += piece.text
    else if (piece.kind !== 'text' || piece.text !== '') all.push({ ...piece })
  }
  return all
}

/** What is wrong with a template: each place, and why. */
export function templateTroubles(
  design: Design,
  link: HttpLink,
  template: string,
): { place: string; line: number; why: string }[] {
  return [...template.matchAll(PLACES)].flatMap(m => {
    const why = placeTrouble(design, link, m[1] ?? '', m[2] ?? '')
    return why === '' ? [] : [{ place: m[0], line: lineAt(template, m.index), why }]
  })
}

function lineAt(text: string, at: number): number {
  return text.slice(0, at).split('\n').length
}

function placeTrouble(design: Design, link: HttpLink, what: string, id: string): string {
  switch (what) {
    case 'name':
    case 'place':
    case 'state':
      return id === '' ? '' : `{${what}} stands alone`
    case 'load':
    case 'keys':
      return link.messages.some(m => m.loadId === id) ? '' : `no load "${id}" on this link`
    case 'reading':
      return link.readings.some(r => r.sensorId === id) ? '' : `"${id}" is not told on this link`
    case 'scene':
      return design.scenes.some(s => s.id === id) && link.scenes[id]
        ? ''
        : `scene "${id}" has no route on this link`
  }
  return `nothing is called {${what}${id === '' ? '' : ` ${id}`}}`
}

function filledIn(design: Design, link: HttpLink, what: string, id: string): PagePiece[] {
  switch (what) {
    case 'name':
      return [text(html(design.name))]
    case 'place':
      return [text(html(design.place))]
    case 'load':
      return loadWords(design, id)
    case 'keys':
      return keysOf(design, link, id)
    case 'reading':
      return [readingWords(design, id)]
    case 'scene': {
      const name = design.scenes.find(s => s.id === id)?.name ?? id
      return [text(press(link, link.scenes[id] ?? '', name))]
    }
  }
  return stateTable(design, link)
}

function loadWords(design: Design, loadId: string): PagePiece[] {
  const output = design.loads.find(l => l.id === loadId)?.output
  if (!output) return []
  const named = valuesOf(output).map((value): PagePiece => {
    const is = html(valueWords(output, value))
    return { kind: 'value', loadId, value, is, otherwise: '' }
  })
  if (numbersOf(output) === null) return named
  const [before = '', after = ''] = html(valueWords(output, MARK)).split(MARK)
  return [...named, { kind: 'number', loadId, before, after }]
}
/** Stands where a number comes. */
const MARK = '987654321'

function readingWords(design: Design, sensorId: string): PagePiece {
  const sensor = design.sensors.find(s => s.id === sensorId)
  const unit = sensor ? unitOf(sensor) : ''
  return { kind: 'reading', sensorId, unit: unit === '' ? '' : html(` ${unit}`) }
}

/** A key for each thing that the load can be asked for and that has a route. */
function keysOf(design: Design, link: HttpLink, loadId: string): PagePiece[] {
  const row = rows(design, link).find(r => r.load.id === loadId)
  if (!row) return []
  const { load, message } = row
  const keys = askedBy(load, message).flatMap((value): PagePiece[] => {
    const route = codeOf(link, load.output, message, value)
    if (route === '') return []
    const words = wishLabel(load.output, value)
    const otherwise = press(link, route, words, load)
    return [{ kind: 'value', loadId, value, is: `<b>${html(words)}</b>`, otherwise }]
  })
  return keys.flatMap((key, i) => (i === 0 ? [key] : [text(' '), key]))
}

/** A link where commands are asked for by GET, else a form of one key. */
function press(link: HttpLink, route: string, words: string, load?: Load): string {
  const label = load ? ` aria-label="${html(`${load.name} ${words}`)}"` : ''
  if (link.method === 'get') return `<a href="${html(route)}"${label}>${html(words)}</a>`
  const [path = '', asked = ''] = route.split('?')
  const fields = asked
    .split('&')
    .filter(Boolean)
    .map(p => {
      const [name = '', value = ''] = p.split('=')
      return `<input type="hidden" name="${html(name)}" value="${html(value)}">`
    })
  return `<form method="post" action="${html(path)}">${fields.join('')}<button${label}>${html(words)}</button></form>`
}

function stateTable(design: Design, link: HttpLink): PagePiece[] {
  const row = (name: string, cell: readonly PagePiece[]) => [
    text(`<tr><th scope="row">${html(name)}</th><td>`),
    ...cell,
    text('</td></tr>'),
  ]
  return [
    text('<table>'),
    ...rows(design, link).flatMap(({ load }) => row(load.name, keysOf(design, link, load.id))),
    ...link.readings.flatMap(r =>
      row(design.sensors.find(s => s.id === r.sensorId)?.name ?? '', [
        readingWords(design, r.sensorId),
      ]),
    ),
    text('</table>'),
  ]
}

/** What a new page starts with. */
export const NEW_TEMPLATE = `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>{name}</title>
<style>
body{font:17px/1.5 sans-serif;max-width:32em;margin:1em auto;padding:0 1em}
th{text-align:left;padding-right:1em}
a,b,button{display:inline-block;min-width:3em;padding:.5em .8em;margin:2px;border:1px solid;border-radius:4px;text-align:center;text-decoration:none;color:inherit;background:none;font:inherit}
b{background:#222;color:#fff}
form{display:inline}
</style>
<h1>{name}</h1>
{state}
</html>
`
