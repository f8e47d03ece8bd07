/**
 * The page of a board: an HTML template with the state filled in as it is served, for whoever opens
 * its address in a browser. No program runs in it, so it also works where none may; a panel page
 * does more.
 */
import type { Design, HttpLink, Load } from '../design/schema'
import { valueWords } from '../design/values'
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

/** The page as it is served. Places that are not known stay as they are. */
export function boardPage(design: Design, link: HttpLink, state: PageState): string {
  const { page } = link
  return (page?.template ?? '').replace(PLACES, (all, what: string, id = '') =>
    placeTrouble(design, link, what, id) === '' ? filledIn(design, link, state, what, id) : all,
  )
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

function filledIn(
  design: Design,
  link: HttpLink,
  state: PageState,
  what: string,
  id: string,
): string {
  switch (what) {
    case 'name':
      return html(design.name)
    case 'place':
      return html(design.place)
    case 'load':
      return loadWords(design, state, id)
    case 'keys':
      return keysOf(design, link, state, id)
    case 'reading':
      return readingWords(design, state, id)
    case 'scene':
      return press(link, link.scenes[id] ?? '', design.scenes.find(s => s.id === id)?.name ?? id)
  }
  return stateTable(design, link, state)
}

function loadWords(design: Design, state: PageState, id: string): string {
  const output = design.loads.find(l => l.id === id)?.output
  return output ? html(valueWords(output, state.value(id))) : ''
}

function readingWords(design: Design, state: PageState, id: string): string {
  const sensor = design.sensors.find(s => s.id === id)
  const text = state.reading(id)
  if (!sensor || text === '') return 'not known yet'
  const unit = Number.isFinite(Number(text)) ? unitOf(sensor) : ''
  return html(`${text}${unit === '' ? '' : ` ${unit}`}`)
}

/** A key for each thing that the load can be asked for and that has a route. */
function keysOf(design: Design, link: HttpLink, state: PageState, id: string): string {
  const row = rows(design, link).find(r => r.load.id === id)
  if (!row) return ''
  const { load, message } = row
  return askedBy(load, message)
    .flatMap(value => {
      const route = codeOf(link, load.output, message, value)
      if (route === '') return []
      const words = wishLabel(load.output, value)
      return [value === state.value(id) ? `<b>${html(words)}</b>` : press(link, route, words, load)]
    })
    .join(' ')
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

function stateTable(design: Design, link: HttpLink, state: PageState): string {
  const loads = rows(design, link).map(
    ({ load }) =>
      `<tr><th scope="row">${html(load.name)}</th><td>${keysOf(design, link, state, load.id)}</td></tr>`,
  )
  const readings = link.readings.map(
    r =>
      `<tr><th scope="row">${html(design.sensors.find(s => s.id === r.sensorId)?.name ?? '')}</th><td>${readingWords(design, state, r.sensorId)}</td></tr>`,
  )
  return `<table>${[...loads, ...readings].join('')}</table>`
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
