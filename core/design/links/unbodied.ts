/**
 * Stands for `bodies.ts` in the program of panel pages whose link puts no parameters into bodies.
 */
import type { HttpLink } from '../schema'
import type { Request } from './bodies'

/** A route as it is asked for. */
export function requestOf(_: Pick<HttpLink, 'bodies'>, method: string, route: string): Request {
  return { path: route, method }
}
