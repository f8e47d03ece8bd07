/** The message table of a link: what each code means, in both directions. One source for decoder, sheet and pages. */
import { maybeMessage } from '../design/find'
import type { Design, Link, Load, Message } from '../design/schema'
import { reportWord, spokenValues } from '../design/values'
import { bodyOf, endOf } from '../design/wire'

/** `value`: a value of the load, or "toggle", "up", "down", "next". `body`: the code as it crosses the wire, without its end. */
export interface CommandEntry { code: string, body: string, loadId: string, value: string }

/** Commands in row order of the sheet, on before off, other values as they rise. Empty codes are left out: nothing can say them. */
export function commands(design: Design, link: Link): CommandEntry[] {
  return rows(design, link).flatMap(({ load, message }) => askedBy(load, message).map(value => ({ code: message.codes[value] ?? '', body: bodyOf(link, message.codes[value] ?? '', 'command'), loadId: load.id, value }))).filter(e => e.code !== '')
}

/** What a message has codes for: every value, then what is relative, such as "toggle". */
export function askedBy(load: Load, message: Message): string[] {
  const values = spokenValues(load.output)
  return [...values, ...RELATIVE.filter(r => r in message.codes)]
}

/** What a code may ask for beside a value, in the order in which it is listed. */
export const RELATIVE: readonly string[] = ['toggle', 'up', 'down', 'next']

/** A report without its end: on serial links as the dialect has it; on HTTP `id=1` or `id=forward` lines. */
export function reportBody(link: Link, load: Load, message: Message, value: string): string {
  return link.kind === 'http' ? `${load.id}=${reportWord(load.output, value)}` : bodyOf(link, message.codes[value] ?? '', 'report')
}

/** As it is sent. */
export function reportText(link: Link, load: Load, message: Message, value: string): string {
  const body = reportBody(link, load, message, value)
  return body === '' ? '' : body + endOf(link)
}

/** An HTTP link keeps an event stream open when it reports anything unasked; replies are then for the asker's eye only. */
export function streams(link: Link): boolean {
  return link.kind === 'http' && (link.onConnect || (link.messages as Message[]).some(m => m.change))
}

/** Messages of a link in the order of the sheet's rows. */
export function rows(design: Design, link: Link): { load: Load, message: Message }[] {
  return design.loads.flatMap((load) => {
    const message = maybeMessage(link, load.id)
    return message ? [{ load, message }] : []
  })
}
