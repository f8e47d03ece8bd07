/**
 * As built: one page to print of what stands in the house. Which program is on which board, when
 * it was commissioned and what differed, which times were measured, and what was noted.
 */
import type { z } from 'zod'
import { uploadRunSchema } from '../boards/upload-record'
import { fingerprint } from '../design/fingerprint'
import { partOfLoad } from '../design/part'
import { pinLabel } from '../design/pins'
import type { Design } from '../design/schema'
import { linesOf } from '../design/values'
import { linkRow } from '../design/links/rows'
import { commissioningSchema, tally } from '../live/commissioning/record'
import { measuredRunSchema, noteSchema } from '../live/record'
import { count } from '../units/format'
import { html } from './escape'

/** A record as it is kept; `at`: ISO 8601. */
export interface BuiltRecord {
  kind: string
  revision: number
  title: string
  at: string
  body: unknown
}
export interface AsBuilt {
  design: Design
  revision: number
  /** The newest first. */
  records: readonly BuiltRecord[]
  /** What was changed, by revision, the newest first. */
  changes: readonly { number: number; words: string }[]
}

const MOST_NOTES = 20
const MOST_CHANGES = 30
const dayOf = (at: string) => at.slice(0, 10)

/** One page of HTML to print: what was built, written, measured and noted of a revision. */
export function asBuilt(of: AsBuilt): string {
  const { design, revision } = of
  const print = fingerprint(design)
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="nolvi-fingerprint" content="${print}"><link rel="icon" href="data:,"><title>${html(`${design.name}, as built`)}</title>
<style>@page{margin:14mm}body{font:10.5pt/1.35 "Atkinson Hyperlegible Next Variable",system-ui,sans-serif;color:#24211d;background:#fff;max-width:60rem;margin:2rem auto;padding:0 1rem}h1{font-size:16pt;margin:0}h2{font-size:12pt;margin:1.2rem 0 .2rem}p{margin:.2rem 0}table{border-collapse:collapse;width:100%}th,td{text-align:left;padding:.25rem .6rem .25rem 0;border-bottom:1px solid #c4baa8;vertical-align:top}.second{color:#655e53}code{font-family:ui-monospace,monospace;font-weight:700}img{max-width:48%;max-height:70mm}@media print{body{margin:0}tr,h2,img{break-inside:avoid}h2{break-after:avoid}}</style></head>
<body><h1>${html(design.name)}, as built</h1>
<p>${html([design.place, `revision ${revision}`].filter(Boolean).join(' \u00b7 '))} \u00b7 table <code>${print}</code></p>
<h2>Boards</h2>
${table(['Board', 'Written', 'Table on it'], boardRows(of, print))}
${changedSince(of, print)}
<h2>Commissioning</h2>
${commissioned(of)}
<h2>Loads</h2>
${table(['Load', 'Where', 'Pins'], loadRows(design))}
<h2>Links</h2>
${table(['Link', 'Reached', 'Measured there and back'], linkRows(of))}
${notes(of)}
</body></html>
`
}

function table(heads: readonly string[], rows: readonly (readonly string[])[]): string {
  return `<table><thead><tr>${heads.map(h => `<th>${html(h)}</th>`).join('')}</tr></thead><tbody>
${rows.map(r => `<tr>${r.map(c => `<td>${c}</td>`).join('')}</tr>`).join('\n')}
</tbody></table>`
}

/** Records of a kind as they were handed in, with when; what cannot be read is passed over. */
function recordsOf<T extends object>(
  records: readonly BuiltRecord[],
  kind: string,
  schema: z.ZodType<T>,
): (T & { at: string })[] {
  return records.flatMap(({ at, body, title, revision, ...r }) => {
    if (r.kind !== kind) return []
    const named = { ...(body as object), kind, revision }
    // A run has its steps for a title.
    const read = [{ ...named, title }, named].map(x => schema.safeParse(x)).find(x => x.success)
    return read?.success ? [{ ...read.data, at }] : []
  })
}

/** What was written onto a board last; undefined = nothing from here. */
function writtenOn({ records }: AsBuilt, controllerId: string) {
  return recordsOf(records, 'upload', uploadRunSchema).find(r => r.controllerId === controllerId)
}

function boardRows(of: AsBuilt, print: string): string[][] {
  return of.design.controllers.map(controller => {
    const written = writtenOn(of, controller.id)
    const on = written?.fingerprint ?? null
    return [
      html(controller.name),
      written ? html(`${dayOf(written.at)}, onto ${written.chip}`) : 'not from here',
      on === null ? 'not known' : `<code>${html(on)}</code>${on === print ? '' : ', older'}`,
    ]
  })
}

/** What the design got since the oldest board was written. */
function changedSince(of: AsBuilt, print: string): string {
  const olds = of.design.controllers.flatMap(c => {
    const written = writtenOn(of, c.id)
    return written && written.fingerprint !== print ? [written.revision] : []
  })
  if (!olds.length) return ''
  const since = Math.min(...olds)
  const changes = of.changes.filter(c => c.number > since).slice(0, MOST_CHANGES)
  return `<p class="second">Changed since revision ${since}, which is on a board:</p>
<ul>${changes.map(c => `<li>${html(`${c.number}: ${c.words}`)}</li>`).join('')}</ul>`
}

function commissioned({ records, design }: AsBuilt): string {
  const [run] = recordsOf(records, 'commissioning', commissioningSchema)
  if (!run) return '<p>Not commissioned yet.</p>'
  const { passed, of, open } = tally(run)
  const differs = run.results.filter(x => x.state === 'differs')
  const about = (id: string) => run.steps.find(s => s.id === id)?.about ?? id
  const sums = `${count(passed)} of ${count(of)} steps as designed${open ? `, ${count(open)} not gone through` : ''}`
  const isNow = run.fingerprint === fingerprint(design)
  return `<p>${html(`${dayOf(run.at)}, revision ${run.revision}: ${sums}.`)} Table <code>${html(run.fingerprint)}</code>${isNow ? '' : ', not that of now'}.</p>
${differs.length ? `<ul>${differs.map(d => `<li>${html(`${about(d.stepId)}: ${d.cause}`)}</li>`).join('')}</ul>` : ''}`
}

function loadRows(design: Design): string[][] {
  return design.loads.map(load => [
    html(load.name),
    html([load.room, load.note].filter(Boolean).join(', ')),
    `<code>${html(
      linesOf(load.output)
        .map(l => pinLabel(partOfLoad(design, load.id), l.pin))
        .join(', '),
    )}</code>`,
  ])
}

function linkRows({ design, records }: AsBuilt): string[][] {
  return design.links.map(link => {
    const last = recordsOf(records, 'measured', measuredRunSchema).find(r => r.linkId === link.id)
    const speed = 'baud' in link ? `${link.baud} baud` : ''
    const where = 'address' in link ? link.address : speed
    return [
      html(link.name),
      html([linkRow(link).words, where].filter(Boolean).join(', ')),
      last
        ? html(`${dayOf(last.at)}: typical ${last.typicalMs} ms, 99 of 100 within ${last.p99Ms} ms`)
        : 'not measured',
    ]
  })
}

function notes({ records }: AsBuilt): string {
  const found = recordsOf(records, 'note', noteSchema).slice(0, MOST_NOTES)
  if (!found.length) return ''
  return `<h2>Notes</h2>
${found.map(n => `<p><span class="second">${dayOf(n.at)}</span> ${html(n.text).replaceAll('\n', '<br>')}</p>${n.pictures.map(p => `<img src="${html(p)}" alt="">`).join(' ')}`).join('\n')}`
}
