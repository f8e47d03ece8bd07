/** OpenAPI 3.1 of an HTTP link: each route with what it does and answers, the question for the state, the stream. */
import { fingerprint } from '../design/fingerprint'
import type { Design, HttpLink } from '../design/schema'
import { commandWords } from '../messages/clashes'
import { commands, reportText, rows, streams } from '../messages/table'
import { spokenValues } from '../design/values'

export function openApi(design: Design, link: HttpLink): string {
  const all = rows(design, link)
  const text = (example: string, description: string) => ({ description, content: { 'text/plain': { schema: { type: 'string' }, example } } })
  const paths: Record<string, unknown> = {}
  for (const c of commands(design, link)) {
    const { load, message } = all.find(r => r.load.id === c.loadId) as (typeof all)[number]
    const value = spokenValues(load.output).includes(c.value) ? c.value : spokenValues(load.output)[0] ?? ''
    paths[c.code] ??= {
      get: {
        operationId: operationId(c.code), summary: commandWords(design, c.loadId, c.value), tags: [load.name],
        responses: { 200: text(message.ack ? reportText(link, load, message, value) : 'ok', message.ack ? 'State after it, one line' : 'Done'), 404: text('no such route', 'No such route, nothing happened') },
      },
    }
  }
  const state = all.map(r => reportText(link, r.load, r.message, spokenValues(r.load.output)[0] ?? '')).join('\n')
  paths[link.askRoute] ??= { get: { operationId: operationId(link.askRoute), summary: 'State of all loads', tags: ['State'], responses: { 200: text(state, 'One line a load') } } }
  if (streams(link)) {
    paths[link.eventsRoute] ??= {
      get: { operationId: operationId(link.eventsRoute), summary: 'Reports as they happen', tags: ['State'], responses: { 200: { description: 'Server-sent events; the data of each is one line a load', content: { 'text/event-stream': { schema: { type: 'string' } } } } } },
    }
  }
  return JSON.stringify({
    openapi: '3.1.0',
    info: { title: `${design.name}, ${link.name}`, version: fingerprint(design), description: `Made by Nolvi; fingerprint ${fingerprint(design)}. Requests change things by GET: keep the address inside the house.` },
    servers: [{ url: link.address }], tags: [...new Set([...all.map(r => r.load.name), 'State'])].map(name => ({ name })), paths,
  }, null, 2) + '\n'
}

/** "/fan/on" becomes get-fan-on. */
function operationId(route: string): string {
  return `get${route.replace(/[^A-Za-z0-9]+/g, '-').replace(/-$/, '')}`
}
