/**
 * OpenAPI 3.1 of an HTTP link: each route with what stands behind it (a time, a number, a word, a
 * counter and its tag), what it does and answers, and how it is refused; the question for the
 * state, the stream. A client made from it works.
 */
import { fingerprint } from '../design/fingerprint'
import { ALIVE_EVENT, aliveMs } from '../design/links/alive'
import type { Auth, Design, HttpLink } from '../design/schema'
import { commandWords, numberWords } from '../messages/clashes'
import { ANSWER_TYPES, answerOf, doneAnswer } from '../messages/answers'
import { readingText, restingRaw } from '../controller/readings'
import { LAST_NUMBER } from '../messages/numbers'
import { readingBody } from '../messages/readings'
import { commands, helloText, reportBody, rows, sceneCodes, streams } from '../messages/table'
import { numberCodes } from '../messages/places'
import { LONGEST_BLINK_MS, LONGEST_MS, SHORTEST_MS, startsTimers } from '../messages/times'
import { spokenValues, restOf } from '../design/values'
import { isTimed } from '../design/outputs/timed'
import { endsOf, limitsOf } from '../design/outputs/traits'
import { PLACE } from '../design/dialects/place'
import { isSigned } from '../design/links/traits'
import { first } from '../units/lists'

type Row = ReturnType<typeof rows>[number]
type Parameter = {
  name: string
  in: 'path' | 'query'
  required: boolean
  description: string
  schema: object
}

const REFUSED = {
  word: 'the word is missing or wrong',
  pin: 'the word is missing or wrong',
  counter: 'its counter is too old (n=17)',
  time: 'its time is 40 s behind',
  challenge: 'it does not answer what the board asks now (n=2871994021)',
} as const

/** The routes of an HTTP link as an OpenAPI 3.1 document, JSON. */
export function openApi(design: Design, link: HttpLink): string {
  const paper = new Paper(design, link)
  paper.commands()
  paper.numbers()
  paper.scenes()
  paper.state()
  paper.pages()
  const { all, paths } = paper
  if (link.bodies !== 'none') intoBodies(paths, link.bodies)
  const tags = [
    ...all.map(r => r.load.name),
    ...(sceneCodes(design, link).length ? ['Scenes'] : []),
    'State',
  ]
  const whole = {
    openapi: '3.1.0',
    info: {
      title: `${design.name}, ${link.name}`,
      version: fingerprint(design),
      description: [
        `Made by Nolvi; fingerprint ${fingerprint(design)}. ${link.method === 'get' ? 'Requests change things by GET: keep the address inside the house.' : 'Keep the address inside the house.'}`,
        ...signingWords(link),
      ].join('\n\n'),
    },
    servers: [{ url: link.address }],
    tags: [...new Set(tags)].map(name => ({ name })),
    paths,
  }
  return JSON.stringify(whole, null, 2) + '\n'
}

/** Paths as they come together. */
class Paper {
  readonly paths: Record<string, Record<string, unknown>> = {}
  readonly all: ReturnType<typeof rows>
  private readonly guard: Parameter[]
  private readonly timed: boolean

  constructor(
    private readonly design: Design,
    private readonly link: HttpLink,
  ) {
    this.all = rows(design, link)
    this.guard = guardParameters(link)
    this.timed = startsTimers(link)
  }

  commands(): void {
    const { design, link, timed, guard } = this
    for (const c of commands(design, link)) {
      const of = this.rowOf(c.loadId)
      const { output } = of.load
      const spoken = spokenValues(output)
      const value = spoken.includes(c.value) ? c.value : (spoken[0] ?? '')
      const limited =
        limitsOf(output)?.tooSoon === 'refuse' || endsOf(output).some(end => end !== null)
      const operation = {
        summary: commandWords(design, c.loadId, c.value),
        tags: [of.load.name],
        responses: {
          200: this.afterIt(of.message.ack, this.line(of, value)),
          ...this.refusals(limited),
        },
      }
      const takesTime = timed && isTimed(c.value) && c.code.includes('?')
      this.add(c.code, link.method, {
        ...operation,
        ...withParameters(takesTime ? [timeParameter('query', false, c.value), ...guard] : guard),
      })
      if (!timed || !isTimed(c.value) || c.code.includes('?')) continue
      this.add(`${c.code}/{ms}`, link.method, {
        ...operation,
        summary: `${operation.summary}, with a time`,
        ...withParameters([timeParameter('path', true, c.value), ...guard]),
      })
    }
  }

  numbers(): void {
    const { design, link, guard } = this
    for (const of of numberCodes(design, link)) {
      const { load, code, high, step } = of
      const { message } = this.rowOf(load.id)
      const after = step === null ? String(high) : restOf(load.output)
      const operation = {
        summary: numberWords(of),
        tags: [load.name],
        ...withParameters([...numberInPath(code, high), ...guard]),
        responses: {
          200: this.afterIt(
            message.ack,
            reportBody(link, load, message, after),
            step === null ? ', with the number that was taken' : ', as it is then',
          ),
          ...this.refusals(false),
        },
      }
      this.add(code, link.method, operation, high)
    }
  }

  scenes(): void {
    const { design, link, guard } = this
    for (const { scene, code } of sceneCodes(design, link)) {
      const told = scene.sets.flatMap(s =>
        this.all
          .filter(r => r.load.id === s.loadId && r.message.ack)
          .map(r => this.line(r, s.value)),
      )
      this.add(code, link.method, {
        summary: `Scene ${scene.name}`,
        tags: ['Scenes'],
        ...withParameters(guard),
        responses: {
          200: this.answer(
            told.length ? answerOf(link.answers, told) : doneAnswer(link.answers),
            'State after it, of its loads',
          ),
          ...this.refusals(false),
        },
      })
    }
  }

  /** What is asked and told: all loads, who is there, the stream of reports. */
  state(): void {
    const { design, link } = this
    const tags = ['State']
    const readings = link.readings.flatMap(r =>
      design.sensors
        .filter(s => s.id === r.sensorId)
        .map(s => readingBody(link, r, readingText(s, restingRaw(s)))),
    )
    const loads = this.all.map(r => this.line(r, spokenValues(r.load.output)[0] ?? ''))
    this.add(link.askRoute, 'get', {
      summary: 'State of all loads',
      tags,
      responses: {
        200: this.answer(
          answerOf(link.answers, [...loads, ...readings]),
          link.readings.length ? 'Every load and reading of this link' : 'Every load of this link',
        ),
      },
    })
    if (link.helloRoute)
      this.add(link.helloRoute, 'get', {
        summary: 'Who is there: version, fingerprint, count of starts',
        tags,
        responses: {
          200: this.answer(
            helloText(link, fingerprint(design), 1),
            'Version, fingerprint of the table, and how often the controller started',
          ),
        },
      })
    if (!streams(link)) return
    this.add(link.eventsRoute, 'get', {
      summary: 'Reports as they happen',
      tags,
      responses: {
        200: {
          description: `Server-sent events; the data of each is ${link.answers === 'json' ? 'a JSON object' : 'one line a load'}. An event "${ALIVE_EVENT}" without data comes every ${aliveMs(link)} ms: whoever hears nothing for three of them opens the stream anew`,
          content: { 'text/event-stream': { schema: { type: 'string' } } },
        },
      },
    })
  }

  /** Readings by themselves, and the page of the board. */
  pages(): void {
    const { design, link } = this
    for (const reading of link.readings) {
      const sensor = design.sensors.find(s => s.id === reading.sensorId)
      if (reading.route === '' || !sensor) continue
      const value = readingText(sensor, restingRaw(sensor))
      const said =
        link.answers === 'text'
          ? value
          : answerOf(link.answers, [readingBody(link, reading, value)])
      this.add(reading.route, 'get', {
        summary: `${sensor.name} alone`,
        tags: ['State'],
        responses: {
          200: this.answer(said, 'Its value'),
          409: plain('Not known yet, after a start', 'not known yet'),
        },
      })
    }
    if (!link.page) return
    this.add(link.page.route, 'get', {
      summary: 'The page of the board, for people',
      tags: ['State'],
      responses: {
        200: {
          description: 'HTML with the state filled in',
          content: { 'text/html': { schema: { type: 'string' } } },
        },
      },
    })
  }

  private rowOf(loadId: string): Row {
    return this.all.find(r => r.load.id === loadId) as Row
  }

  private line(r: Row, value: string): string {
    return reportBody(this.link, r.load, r.message, value)
  }

  private add(route: string, method: string, operation: Operation, high = 0): void {
    const { paths } = this
    const [path = '', asked] = route.split('?')
    if (asked === undefined)
      paths[path] ??= { [method]: { operationId: operationId(method, path), ...operation } }
    else addAsked(paths, path, asked, method, operation, high)
  }

  private answer(example: string, description: string): object {
    const isJson = this.link.answers === 'json'
    const schema = isJson
      ? { type: 'object', additionalProperties: { type: ['string', 'integer'] } }
      : { type: 'string' }
    const said = { schema, example: isJson ? (JSON.parse(example) as unknown) : example }
    return { description, content: { [ANSWER_TYPES[this.link.answers]]: said } }
  }

  private afterIt(ack: boolean, text: string, more = ''): object {
    const { answers } = this.link
    return ack
      ? this.answer(answerOf(answers, [text]), `State after it${more}`)
      : this.answer(doneAnswer(answers), 'Done')
  }

  private refusals(limited: boolean): object {
    const { auth, method } = this.link
    return {
      ...(auth.kind === 'none'
        ? {}
        : { 403: plain('Refused, and nothing happened: the text says why', REFUSED[auth.kind]) }),
      404: plain('No such route, nothing happened', 'no such route'),
      405: plain(
        'The route is there, and not for this method; nothing happened',
        method === 'post' ? 'commands are asked for by POST' : 'GET or POST',
      ),
      ...(limited
        ? {
            409: plain(
              'Not allowed now: a least time is not over, or an end contact is closed. The state as it is, or why',
              'not allowed now',
            ),
          }
        : {}),
    }
  }
}

function plain(description: string, example: string): object {
  return { description, content: { 'text/plain': { schema: { type: 'string' }, example } } }
}

/** Parameters that stand in a body: what is asked by POST takes them as its members. */
function intoBodies(paths: Record<string, Record<string, unknown>>, bodies: 'form' | 'json'): void {
  for (const methods of Object.values(paths)) {
    const post = methods.post as (Operation & { requestBody?: object }) | undefined
    const parameters = (post?.parameters ?? []) as Parameter[]
    const asked = parameters.filter(p => p.in === 'query')
    if (!post || !asked.length) continue
    const left = parameters.filter(p => p.in !== 'query')
    if (left.length) post.parameters = left
    else delete post.parameters
    post.requestBody = {
      required: true,
      content: {
        [bodies === 'form' ? 'application/x-www-form-urlencoded' : 'application/json']: {
          schema: {
            type: 'object',
            properties: Object.fromEntries(
              asked.map(p => [p.name, { ...p.schema, description: p.description }]),
            ),
            required: asked.filter(p => p.required).map(p => p.name),
          },
        },
      },
    }
  }
}

/** A number in the path of a route; beyond an end it is taken as that end. */
function numberInPath(code: string, high: number): Parameter[] {
  if (code.includes('?')) return []
  return [
    {
      name: 'value',
      in: 'path',
      required: true,
      description: 'What is asked for; the nearest that there is counts',
      schema: { type: 'integer', minimum: 0, maximum: high },
    },
  ]
}

/** A time behind a command that starts a timer, ms. */
function timeParameter(where: 'path' | 'query', required: boolean, value: string): Parameter {
  return {
    name: 'ms',
    in: where,
    required,
    description: 'Time, ms; it stays for later commands without one',
    schema: {
      type: 'integer',
      minimum: SHORTEST_MS,
      maximum: value === 'blink' ? LONGEST_BLINK_MS : LONGEST_MS,
    },
  }
}

interface Operation {
  summary: string
  parameters?: object[]
  [more: string]: unknown
}

/**
 * Routes that differ in their parameters are one operation: each parameter with the values that it
 * takes, and what each of them does.
 */
function addAsked(
  paths: Record<string, Record<string, unknown>>,
  path: string,
  asked: string,
  method: string,
  operation: Operation,
  high: number,
): void {
  const methods = (paths[path] ??= {})
  const there = methods[method] as (Operation & { description?: string }) | undefined
  const does = `?${asked}: ${operation.summary}`
  const own = asked.split('&').map(p => p.split('=') as [string, string])
  const known = (there?.parameters ?? []) as { name: string; schema: AskedSchema }[]
  for (const [name, value] of own) {
    const parameter = known.find(p => p.name === name)
    if (parameter) parameter.schema = taking(parameter.schema, value, high)
  }
  if (there) {
    const more = (operation.parameters ?? []) as typeof known
    there.parameters = [...known, ...more.filter(p => known.every(k => k.name !== p.name))]
    there.description = `${there.description ?? ''}\n${does}`
    return
  }
  methods[method] = {
    operationId: operationId(method, path),
    ...operation,
    summary: 'By its parameters',
    description: does,
    parameters: [
      ...own.map(([name, value]) => ({
        name,
        in: 'query',
        required: true,
        description: 'Of the route',
        schema: taking(null, value, high),
      })),
      ...(operation.parameters ?? []),
    ],
  }
}

type WordSchema = { type: 'string'; enum: string[] }
type NumberSchema = { type: 'integer'; minimum: number; maximum: number }
type AskedSchema = WordSchema | NumberSchema | { anyOf: (WordSchema | NumberSchema)[] }

function partsOf(schema: AskedSchema | null): (WordSchema | NumberSchema)[] {
  if (schema === null) return []
  return 'anyOf' in schema ? schema.anyOf : [schema]
}

/** What a parameter takes when it takes one more value, a word or any number up to `high`. */
function taking(before: AskedSchema | null, value: string, high: number): AskedSchema {
  const parts = partsOf(before)
  const words = parts.find(p => p.type === 'string')?.enum ?? []
  const numbers = parts.filter(p => p.type === 'integer')
  const number: NumberSchema = {
    type: 'integer',
    minimum: 0,
    maximum: Math.max(high, ...numbers.map(n => n.maximum)),
  }
  const more = value === PLACE ? words : [...new Set([...words, value])]
  const word: WordSchema = { type: 'string', enum: more }
  const both = [
    ...(more.length ? [word] : []),
    ...(value === PLACE || numbers.length ? [number] : []),
  ]
  return both.length === 1 ? first(both) : { anyOf: both }
}

/** What stands behind the route of a command, in this order. */
function guardParameters(link: HttpLink): Parameter[] {
  const { auth } = link
  const query = (
    name: string,
    required: boolean,
    description: string,
    schema: object,
  ): Parameter => ({ name, in: 'query', required, description, schema })
  return [
    ...(link.numbered
      ? [
          query(
            'no',
            false,
            `Number of the command; one that was seen within ${link.numbered.windowMs} ms is answered again and does not act`,
            { type: 'integer', minimum: 1, maximum: LAST_NUMBER },
          ),
        ]
      : []),
    ...(auth.kind === 'word' ? [query('key', true, 'The word', { type: 'string' })] : []),
    ...(auth.kind === 'pin'
      ? [query('key', true, 'The PIN', { type: 'string', pattern: `^[0-9]{${auth.digits}}$` })]
      : []),
    ...(isSigned(auth)
      ? [
          query('n', true, signedNumber(auth), {
            type: 'integer',
            minimum: 1,
            maximum: 0xffffffff,
          }),
          query('tag', true, 'Tag over counter and route, in capital hexadecimal digits', {
            type: 'string',
            pattern: `^[0-9A-F]{${2 * auth.tagBytes}}$`,
          }),
        ]
      : []),
  ]
}

function signedNumber(auth: Extract<Auth, { tagBytes: number }>): string {
  switch (auth.kind) {
    case 'counter':
      return 'Counter: two bits for the device that counts (times 1073741824), thirty for its count from 1; each is taken once'
    case 'time':
      return `Time of day, s since 1970; taken within ${auth.toleranceS} s of that of the board${auth.once ? ', each once' : ''}`
    case 'challenge':
      return `The number that the board handed out last: ask with 1, and the refusal tells it. Good once, and for ${auth.validS} s`
  }
}

function withParameters(parameters: readonly Parameter[]): object {
  return parameters.length ? { parameters } : {}
}

function signingWords(link: HttpLink): string[] {
  if (!isSigned(link.auth)) return []
  return [
    `Commands are signed. tag = the first ${link.auth.tagBytes} bytes of HMAC-SHA-256 with the key as UTF-8, over n as four bytes (most significant first) and then the route as it is asked for, up to where "n" begins: "/load/on", "/load/for/5000"${link.numbered ? ', "/load/on?no=5"' : ''}. Parameters stand in the order in which they are listed.`,
    'A counter that does not fit is refused with 403 and told the one that was taken last, "(n=17)": go on from there.',
  ]
}

/** "/fan/on" becomes get-fan-on. */
function operationId(method: string, route: string): string {
  return `${method}${route.replace(/[^A-Za-z0-9]+/g, '-').replace(/-$/, '')}`
}
