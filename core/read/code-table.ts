/**
 * A code table out of a spreadsheet: CSV with any of the usual habits - semicolons, commas or tabs,
 * quotes, a byte order mark, spaces - and a heading row. Columns "load", "value", "code", or "load"
 * and one column for each value.
 */
import Papa from 'papaparse'
import type { Edit } from '../design/edits/edits'
import { freshId } from '../design/ids'
import { maybeMessage } from '../design/find'
import type { Codes, Design, Link } from '../design/schema'
import { spokenValues, relativeOf } from '../design/values'

export interface CodeRow {
  line: number
  load: string
  value: string
  code: string
}
export interface ReadTable {
  rows: CodeRow[]
  problems: { line: number; message: string }[]
}

/** Reads a table of codes, CSV; what it cannot take is told with its line. */
export function readCodeTable(text: string): ReadTable {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' })
  const [heading, ...body] = data
  if (!heading) return { rows: [], problems: [{ line: 1, message: 'the file is empty' }] }
  const columns = heading.map(h => h.trim().toLowerCase())
  const at = (name: string) => columns.indexOf(name)
  if (at('load') < 0)
    return {
      rows: [],
      problems: [
        {
          line: 1,
          message: `no column "load"; there are ${heading.map(h => `"${h.trim()}"`).join(', ')}`,
        },
      ],
    }
  const problems: ReadTable['problems'] = []
  const long = at('code') >= 0 && at('value') >= 0
  const values = long
    ? []
    : columns
        .map((name, i) => ({ name, i }))
        .filter(c => c.i !== at('load') && c.name !== '' && !['note', 'comment'].includes(c.name))
  if (!long && !values.length)
    problems.push({
      line: 1,
      message: 'no column with codes: name them after the values, such as "on" and "off"',
    })
  const rows = body.flatMap((cells, i): CodeRow[] => {
    const line = i + 2
    const cell = (n: number) => (cells[n] ?? '').trim().replace(/^'(?=[=+\-@])/, '')
    const load = cell(at('load'))
    if (load === '') {
      problems.push({ line, message: 'no load is named' })
      return []
    }
    if (long)
      return [{ line, load, value: cell(at('value')).toLowerCase(), code: cell(at('code')) }]
    return values
      .map(v => ({ line, load, value: v.name, code: cell(v.i) }))
      .filter(r => r.code !== '')
  })
  return { rows, problems }
}

export interface TakenTable {
  edit: Edit | null
  changed: number
  added: string[]
  problems: ReadTable['problems']
}

/** The edit that brings a table onto a link: known loads get the codes, others are added. */
export function takeTable(design: Design, link: Link, table: ReadTable): TakenTable {
  const problems = [...table.problems]
  const edits: Edit[] = []
  const added: string[] = []
  let changed = 0
  const taken: { id: string }[] = [...design.loads]
  const names = [...new Set(table.rows.map(r => r.load))]
  for (const name of names) {
    const rows = table.rows.filter(r => r.load === name)
    const load = design.loads.find(
      l => l.name.toLowerCase() === name.toLowerCase() || l.id === name,
    )
    const allowed = load
      ? [...spokenValues(load.output), ...relativeOf(load.output)]
      : ['on', 'off', 'toggle']
    const codes: Codes = {}
    for (const row of rows) {
      if (!allowed.includes(row.value))
        problems.push({
          line: row.line,
          message: `"${row.value}" is no value of ${name}; it has ${allowed.join(', ')}`,
        })
      else codes[row.value] = row.code
    }
    if (!Object.keys(codes).length) continue
    if (load && maybeMessage(link, load.id)) {
      for (const [which, code] of Object.entries(codes)) {
        if (maybeMessage(link, load.id)?.codes[which] === code) continue
        edits.push({ type: 'renameCode', linkId: link.id, loadId: load.id, which, code })
        changed++
      }
      continue
    }
    const id = load?.id ?? freshId(name, 'load', taken)
    if (!load) {
      taken.push({ id })
      edits.push({ type: 'addLoad', name, id })
      added.push(name)
    }
    const values = load ? spokenValues(load.output) : ['on', 'off']
    edits.push({
      type: 'addMessage',
      linkId: link.id,
      loadId: id,
      codes: { ...Object.fromEntries(values.map(v => [v, ''])), ...codes },
    })
    changed += Object.keys(codes).length
  }
  return {
    edit: edits.length
      ? {
          type: 'together',
          edits,
          words: `Code table read into ${link.name}: ${changed} codes${added.length ? `, ${added.length} loads added` : ''}`,
        }
      : null,
    changed,
    added,
    problems,
  }
}
