/** Stands for `over-http.ts` in the program of panel pages whose link carries bytes. */

/** Nothing is heard so. */
export function heardOverHttp(): [] {
  return []
}
