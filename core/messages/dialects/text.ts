/** What is common to ways of speaking in words. */
import type { Speech } from './facet'

export const spoken: Pick<
  Speech,
  'put' | 'pattern' | 'closing' | 'error' | 'counter' | 'counterPattern'
> = {
  put: (body, { words }) => `${body} ${words}`,
  pattern: ({ words }) => ` ${words}`,
  closing: '',
  counter: (mark, counter) => `${mark}#${counter}`,
  error: (mark, text) => mark + text,
  counterPattern: /^#(\d{1,10})$/,
}

/** "+hello nolvi/5 3FA2B1 7" */
export function hereInWords(mark: string, ...words: (string | number)[]): string {
  return `${mark}hello ${words.join(' ')}`
}
