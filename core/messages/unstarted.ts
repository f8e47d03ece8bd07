/**
 * Stands for `started.ts` in the program of panel pages whose messages have no flag for a start.
 */

/** No flag. */
export function flaggedOn(): null {
  return null
}
/** The code as it is. */
export function flagged(_: object, __: object, code: string): string {
  return code
}
