/** A moment as this machine writes it. */
export function whenWords(text: string): string {
  return new Date(text).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })
}
