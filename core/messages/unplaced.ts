/** Stands for `places.ts` in the program of panel pages whose link says no numbers. */

/** No number is said. */
export function numberPlaces(): [] {
  return []
}
