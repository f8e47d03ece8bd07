/**
 * What an answer over HTTP, or a piece of its stream, says to a panel. A page whose link carries
 * bytes holds `not-over-http.ts` instead.
 */
import type { HttpLink } from '../design/schema'
import { linesIn } from '../messages/answers'
import { counterIn } from '../messages/sealing'

/**
 * Serial bytes and event streams are unasked; HTTP answers belong to a command or to a question for
 * the state, or refuse a command.
 */
export type Via = 'stream' | 'command' | 'ask' | 'refused'

/** `told`: the counter that the board took last, where it refused one. */
export interface Refused {
  refused: string
  told?: number
}

/** `meaningOf`: what a line says; null where it says nothing. */
export function heardOverHttp<T extends object>(
  link: HttpLink,
  text: string,
  via: Via,
  meaningOf: (line: string) => T | null,
): readonly (T | Refused)[] {
  const heard = linesIn(
    via === 'stream' && link.answers === 'page' ? 'text' : link.answers,
    text,
  ).flatMap(line => {
    // What refuses says so by its status, once.
    const meaning = meaningOf(line)
    return meaning && !('refused' in meaning) ? [meaning] : []
  })
  // A refusal may say how it is instead; else it says why.
  if (via !== 'refused') return heard
  const [why = ''] = text.trim().split('\n')
  const told = counterIn(link, why)
  return [
    { refused: heard.length ? 'not allowed now' : why, ...(told === null ? {} : { told }) },
    ...heard,
  ]
}
