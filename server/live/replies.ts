/** How a server of a controller answers, and reads what it is asked with. */
import type { IncomingMessage, ServerResponse } from 'node:http'
import { holdsParameters } from '../../core/design/links/bodies'

const MAX_BODY_BYTES = 10_000
/** Who takes in nothing of a stream is let go before what waits for him fills the memory. */
const MAX_UNREAD_BYTES = 1_000_000

export class BadBody extends Error {}

/** Type and text of the body of a command; null where there is none. */
export async function bodyOf(
  request: IncomingMessage,
): Promise<[type: string, body: string] | null> {
  const type = request.headers['content-type']
  if (request.method !== 'POST' || type === undefined || !holdsParameters(type)) return null
  const body = await wholeBody(request)
  return body === '' ? null : [type, body]
}

/** Only JSON is taken: a form on a foreign page cannot send it without asking first. */
export async function readJson(request: IncomingMessage): Promise<unknown> {
  if (!request.headers['content-type']?.startsWith('application/json'))
    throw new BadBody('send application/json')
  const body = await wholeBody(request)
  try {
    return JSON.parse(body) ?? {}
  } catch {
    throw new BadBody('the body is not JSON')
  }
}

/** Throws `BadBody` where it is too large. */
export async function wholeBody(request: IncomingMessage): Promise<string> {
  let body = ''
  for await (const piece of request) {
    body += String(piece)
    if (body.length > MAX_BODY_BYTES) throw new BadBody('the body is too large')
  }
  return body
}

/** A stream of events begins. */
export function openEvents(response: ServerResponse): void {
  response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' })
  response.write(': open\n\n')
}

export function push(client: ServerResponse, data: string): void {
  if (client.writableLength > MAX_UNREAD_BYTES) client.destroy()
  else client.write(data)
}

/** Pages from a file or from another address may read what a board says, as on a real one. */
export function open(response: ServerResponse): void {
  response.setHeader('access-control-allow-origin', '*')
  response.setHeader('access-control-allow-private-network', 'true')
  // A body of JSON is asked for first.
  response.setHeader('access-control-allow-headers', 'content-type')
}

export function text(
  response: ServerResponse,
  status: number,
  body: string,
  type = 'text/plain',
): void {
  response
    .writeHead(status, { 'content-type': `${type}; charset=utf-8`, 'cache-control': 'no-store' })
    .end(body)
}

export function page(response: ServerResponse, body: string): void {
  response
    .writeHead(200, {
      'content-type': 'text/html; charset=utf-8',
      'cache-control': 'no-store',
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'no-referrer',
    })
    .end(body)
}

export function redirect(response: ServerResponse, to: string, status = 302): void {
  response.writeHead(status, { location: to }).end()
}
