/** The message table of a link: what each code means, in both directions. One source for decoder, sheet and pages. */
import { maybeMessage } from '../design/find'
import type { Design, Link, Load, Message } from '../design/schema'
import { reportWord, spokenValues } from '../design/values'

export interface CommandEntry { code: string, loadId: string, value: string }
export interface ReportEntry { text: string, loadId: string, value: string }

/** Commands in row order of the sheet, on before off, other values as they rise. Empty codes are left out: nothing can say them. */
export function commands(design: Design, link: Link): CommandEntry[] {
  return rows(design, link).flatMap(({ load, message }) => spokenValues(load.output).map(value => ({ code: message.codes[value] ?? '', loadId: load.id, value }))).filter(e => e.code !== '')
}

/** Reports of a link: on serial links the report mark before the command code; on HTTP `id=1` or `id=forward` lines. */
export function reports(design: Design, link: Link): ReportEntry[] {
  return rows(design, link).flatMap(({ load, message }) => spokenValues(load.output).map(value => ({ text: reportText(link, load, message, value), loadId: load.id, value })))
}

export function reportText(link: Link, load: Load, message: Message, value: string): string {
  return link.kind === 'http' ? `${load.id}=${reportWord(load.output, value)}` : `${link.reportMark}${message.codes[value] ?? ''}`
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
