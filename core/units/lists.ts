/** Items of lists that are known to be there: who is wrong about that is told at once. */

/** The item at an index. Throws `RangeError` where the list has none. */
export function nth<T>(list: readonly T[], index: number): T {
  if (!(index >= 0 && index < list.length))
    throw new RangeError(`a list of ${list.length} has no item ${index}`)
  return list[index] as T
}

/** The first item. Throws `RangeError` for an empty list. */
export function first<T>(list: readonly T[]): T {
  return nth(list, 0)
}

/** The last item. Throws `RangeError` for an empty list. */
export function last<T>(list: readonly T[]): T {
  return nth(list, list.length - 1)
}
