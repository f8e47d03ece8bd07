/** The message table of a link: what each code means, in both directions. One source for decoder, sheet and pages. */
import { maybeMessage } from '../design/find'
import type { Design, Link, Load, Message, OnOff } from '../design/schema'

export interface CommandEntry { code: string, loadId: string, value: OnOff }
export interface ReportEntry { text: string, loadId: string, value: OnOff }

/** Commands in row order of the sheet, on before off. Empty codes are left out: nothing can say them. */
export function commands(design: Design, link: Link): CommandEntry[] {
  return rows(design, link).flatMap(({ load, message }) => VALUES.map(value => ({ code: message[value], loadId: load.id, value }))).filter(e => e.code !== '')
}

/** Reports of a link: on serial links the report mark before the command code; on HTTP `id=1` lines. */
export function reports(design: Design, link: Link): ReportEntry[] {
  return rows(design, link).flatMap(({ load, message }) => VALUES.map(value => ({ text: reportText(link, message, value), loadId: load.id, value })))
}

export function reportText(link: Link, message: Message, value: OnOff): string {
  return link.kind === 'http' ? `${message.loadId}=${value === 'on' ? 1 : 0}` : `${link.reportMark}${message[value]}`
}

/** The whole state in one text: serial reports follow one another, HTTP has one line each. */
export function stateText(design: Design, link: Link, isOn: (loadId: string) => boolean): string {
  return rows(design, link).map(({ load, message }) => reportText(link, message, isOn(load.id) ? 'on' : 'off')).join(link.kind === 'http' ? '\n' : '')
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

const VALUES = ['on', 'off'] as const
