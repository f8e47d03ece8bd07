/** What comes of an echo: texts that return to their sender and are read as something there. */
import type { Design, ByteLink } from '../design/schema'
import { bodyOf, endOf } from '../design/wire'
import { codeUses, commandWords } from './clashes'
import { feedAll, readerOf } from './stream'
import { commands, reportBody, reportText, rows } from './table'
import { spokenValues } from '../design/values'

export interface Echo {
  /** Where it is read: the board that reported, or the panel that asked. */
  side: 'board' | 'panel'
  loadId: string
  sent: string
  means: string
  /** The board answers it with the same report. */
  loops: boolean
}

/** The shortest for each load and side. */
export function echoes(design: Design, link: ByteLink): Echo[] {
  const uses = new Map(codeUses(design, link).map(u => [bodyOf(link, u.code, 'command'), u]))
  const board = readerOf(link, uses.keys())
  const found: Echo[] = []
  const reportsOf = new Map<string, string>()
  for (const { load, message } of rows(design, link)) {
    for (const value of spokenValues(load.output)) {
      const body = reportBody(link, load, message, value)
      if (body !== '') reportsOf.set(body, `${commandWords(design, load.id, value)}`)
      const sent = reportText(link, load, message, value)
      const heard = feedAll(board, '', sent)
        .heard.flatMap(h => (h.kind === 'code' ? (uses.get(h.code) ?? []) : []))
        .find(u => u.loadId !== null)
      if (heard)
        found.push({
          side: 'board',
          loadId: load.id,
          sent,
          means: heard.what,
          loops: message.ack && heard.loadId === load.id,
        })
    }
  }
  const panel = readerOf(link, reportsOf.keys())
  for (const c of commands(design, link)) {
    const sent = c.body + endOf(link)
    const heard = feedAll(panel, '', sent).heard.find(h => h.kind === 'code')
    if (heard?.kind === 'code')
      found.push({
        side: 'panel',
        loadId: c.loadId,
        sent,
        means: `the report "${reportsOf.get(heard.code) ?? ''}"`,
        loops: false,
      })
  }
  const first = new Map<string, Echo>()
  for (const e of found.sort((a, b) => a.sent.length - b.sent.length))
    if (!first.has(`${e.side} ${e.loadId}`)) first.set(`${e.side} ${e.loadId}`, e)
  return [...first.values()]
}
