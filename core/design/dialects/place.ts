/** The place for a number within a code: "lamp {value}". */

export const PLACE = '{value}'
/** A number as it may come. */
const NUMBER = /^-?\d{1,6}$/

/** The code with a number in its place. */
export function putIn(code: string, number: number): string {
  return code.replace(PLACE, String(number))
}

/** The number that stands in the place of `pattern`; null where the text is none of it. */
export function numberAt(pattern: string, text: string): number | null {
  const at = pattern.indexOf(PLACE)
  if (at < 0) return null
  const head = pattern.slice(0, at)
  const tail = pattern.slice(at + PLACE.length)
  if (!text.startsWith(head) || !text.endsWith(tail)) return null
  const number = text.slice(head.length, text.length - tail.length)
  return text.length >= head.length + tail.length && NUMBER.test(number) ? Number(number) : null
}
