/** Lets other requests through between two slices of a long computation. */
export function nextTurn(): Promise<void> {
  return new Promise(resolve => setImmediate(resolve))
}
