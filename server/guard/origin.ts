/**
 * Who asks: only pages of this server itself change anything, whatever page a browser has open
 * beside it. A program that is no browser sends none of these headers and is let through here; over
 * the network a key is asked of it as of everybody (keys.ts).
 */
import { isIP } from 'node:net'
import type { IncomingHttpHeaders } from 'node:http'

export interface Foreign {
  status: 403 | 415 | 421
  title: string
  message: string
}

/**
 * Addresses, localhost and .local are names of this house; a name from elsewhere that points here
 * ("DNS rebinding") is none.
 */
export function foreignName(
  headers: IncomingHttpHeaders,
  own = process.env.NOLVI_HOST ?? '',
): Foreign | null {
  const named = `http://${headers.host ?? ''}`
  const hostname = URL.canParse(named) ? new URL(named).hostname : ''
  const bare = hostname.replace(/^\[|\]$/g, '')
  if (
    isIP(bare)
    || bare === 'localhost'
    || bare.endsWith('.local')
    || (bare !== '' && bare === own.toLowerCase())
  )
    return null
  return {
    status: 421,
    title: 'This is not the name of Nolvi',
    message: `"${hostname.slice(0, 60)}" is no address of this machine; use http://127.0.0.1, localhost, a name that ends in .local, or start with NOLVI_HOST`,
  }
}

const FOREIGN: Foreign = {
  status: 403,
  title: 'This was asked for by a page from elsewhere',
  message: 'open Nolvi itself and do it there; a program of your own sends no Origin',
}

/** For what only pages of this very server may ask. */
export function foreignPage(method: string, headers: IncomingHttpHeaders): Foreign | null {
  const { origin, host } = headers
  const site = headers['sec-fetch-site']
  const reads = method === 'GET' || method === 'HEAD'
  // Following a link to here is nobody else's reading: the page that has the link does not see what
  // comes.
  if (reads && headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document')
    return null
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return FOREIGN
  if (origin !== undefined && !sameHost(origin, host)) return FOREIGN
  return null
}

/**
 * For what a board would answer to anybody on its network: a page from a file (its origin is
 * "null") and one from this machine or an address are let through, a page of the world outside is
 * not.
 */
export function outsidePage(headers: IncomingHttpHeaders): Foreign | null {
  const { origin, host } = headers
  if (origin === undefined)
    return headers['sec-fetch-site'] === 'cross-site' && headers['sec-fetch-mode'] !== 'navigate'
      ? FOREIGN
      : null
  if (origin === 'null' || sameHost(origin, host)) return null
  return URL.canParse(origin) && foreignName({ host: new URL(origin).host }) === null
    ? null
    : FOREIGN
}

/** A form of a foreign page can send text, but not these types without asking first. */
export function foreignType(
  method: string,
  headers: IncomingHttpHeaders,
  types: readonly string[],
): Foreign | null {
  if (method === 'GET' || method === 'HEAD' || method === 'OPTIONS' || method === 'DELETE')
    return null
  const empty =
    headers['transfer-encoding'] === undefined && Number(headers['content-length'] ?? 0) === 0
  const type = (headers['content-type'] ?? '').split(';')[0]?.trim().toLowerCase() ?? ''
  if ((empty && type === '') || types.includes(type)) return null
  return {
    status: 415,
    title: 'The body is of another kind',
    message: `send ${types.join(' or ')}`,
  }
}

function sameHost(origin: string, host: string | undefined): boolean {
  return host !== undefined && URL.canParse(origin) && new URL(origin).host === host.toLowerCase()
}
