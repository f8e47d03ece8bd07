/** OpenAPI 3.1 of an HTTP link: each route with what it does and answers, the question for the state, the stream. */
import { fingerprint } from '../design/fingerprint'
import type { Design, HttpLink } from '../design/schema'
import { commandWords } from '../messages/clashes'
import { ANSWER_TYPES, answerOf, doneAnswer } from '../messages/answers'
import { readingText, restingRaw } from '../controller/readings'
import { readingBody } from '../messages/readings'
import { commands, helloText, reportBody, rows, sceneCodes, streams } from '../messages/table'
import { spokenValues } from '../design/values'

export function openApi(design: Design, link: HttpLink): string {
  const all = rows(design, link)
  const type = ANSWER_TYPES[link.answers]
  const schema = link.answers === 'json' ? { type: 'object', additionalProperties: { type: ['string', 'integer'] } } : { type: 'string' }
  const answer = (example: string, description: string) => ({ description, content: { [type]: { schema, example: link.answers === 'json' ? JSON.parse(example) as unknown : example } } })
  const wrong = { description: 'No such route, nothing happened', content: { 'text/plain': { schema: { type: 'string' }, example: 'no such route' } } }
  const paths: Record<string, Record<string, unknown>> = {}
  const add = (route: string, method: string, operation: object) => { paths[route] ??= { [method]: { operationId: operationId(method, route), ...operation } } }
  const line = (r: (typeof all)[number], value: string) => reportBody(link, r.load, r.message, value)
  for (const c of commands(design, link)) {
    const of = all.find(r => r.load.id === c.loadId) as (typeof all)[number]
    const value = spokenValues(of.load.output).includes(c.value) ? c.value : spokenValues(of.load.output)[0] ?? ''
    add(c.code, link.method, {
      summary: commandWords(design, c.loadId, c.value), tags: [of.load.name],
      responses: { 200: answer(of.message.ack ? answerOf(link.answers, [line(of, value)]) : doneAnswer(link.answers), of.message.ack ? 'State after it' : 'Done'), 404: wrong },
    })
  }
  for (const { scene, code } of sceneCodes(design, link)) {
    const told = scene.sets.flatMap(s => all.filter(r => r.load.id === s.loadId && r.message.ack).map(r => line(r, s.value)))
    add(code, link.method, { summary: `Scene ${scene.name}`, tags: ['Scenes'], responses: { 200: answer(told.length ? answerOf(link.answers, told) : doneAnswer(link.answers), 'State after it, of its loads'), 404: wrong } })
  }
  add(link.askRoute, 'get', { summary: 'State of all loads', tags: ['State'], responses: { 200: answer(answerOf(link.answers, [...all.map(r => line(r, spokenValues(r.load.output)[0] ?? '')), ...link.readings.flatMap(r => design.sensors.filter(s => s.id === r.sensorId).map(s => readingBody(link, r, readingText(s, restingRaw(s)))))]), link.readings.length ? 'Every load and reading of this link' : 'Every load of this link') } })
  if (link.helloRoute) add(link.helloRoute, 'get', { summary: 'Who is there: version, fingerprint, count of starts', tags: ['State'], responses: { 200: answer(helloText(link, fingerprint(design), 1), 'Version, fingerprint of the table, and how often the controller started') } })
  if (streams(link)) add(link.eventsRoute, 'get', { summary: 'Reports as they happen', tags: ['State'], responses: { 200: { description: `Server-sent events; the data of each is ${link.answers === 'json' ? 'a JSON object' : 'one line a load'}`, content: { 'text/event-stream': { schema: { type: 'string' } } } } } })
  const tags = [...all.map(r => r.load.name), ...(sceneCodes(design, link).length ? ['Scenes'] : []), 'State']
  return JSON.stringify({
    openapi: '3.1.0',
    info: { title: `${design.name}, ${link.name}`, version: fingerprint(design), description: `Made by Nolvi; fingerprint ${fingerprint(design)}. ${link.method === 'get' ? 'Requests change things by GET: keep the address inside the house.' : 'Keep the address inside the house.'}` },
    servers: [{ url: link.address }], tags: [...new Set(tags)].map(name => ({ name })), paths,
  }, null, 2) + '\n'
}

/** "/fan/on" becomes get-fan-on. */
function operationId(method: string, route: string): string {
  return `${method}${route.replace(/[^A-Za-z0-9]+/g, '-').replace(/-$/, '')}`
}
