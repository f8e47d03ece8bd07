/**
 * Stands for `asked.ts` in the program of panel pages whose link asks for no proof: nothing is
 * refused for its number there.
 */
export interface Asked {
  code: string
}

/** Nothing is kept. */
export function keepAsked(): void {}
/** Nothing waits. */
export function dropAnswered(): void {}
/** Nothing is said once more. */
export function askedAgain(): null {
  return null
}
