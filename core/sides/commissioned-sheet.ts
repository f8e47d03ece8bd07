/** The record of a commissioning run as a sheet to print, for the box on the wall. */
import type { Commissioning } from '../live/commissioning/record'
import { tally } from '../live/commissioning/record'
import { CHAPTER_WORDS, CHAPTERS } from '../live/commissioning/steps'
import { count, plural } from '../units/format'
import { html } from './escape'

type Result = Commissioning['results'][number]

const MARKS = {
  passed: '\u25cf',
  differs: '\u25a8',
  later: '\u25cb',
  'left out': '\u2013',
} as const
const WORDS = {
  passed: 'as designed',
  differs: 'differs',
  later: 'not gone through',
  'left out': 'left out',
} as const

/** `design`: name and place. `day`: when it was printed or ended, in words. */
export function commissionedSheet(
  design: { name: string; place: string },
  run: Commissioning,
  day: string,
): string {
  const results = new Map(run.results.map(r => [r.stepId, r]))
  const sections = CHAPTERS.flatMap(chapter => {
    const steps = run.steps.filter(s => s.chapter === chapter)
    if (!steps.length) return []
    const rows = steps.map(s => row(s, results.get(s.id)))
    return [
      `<h2>${html(CHAPTER_WORDS[chapter])}</h2>\n<table><tbody>\n${rows.join('\n')}\n</tbody></table>`,
    ]
  })
  const { passed, differs, open, leftOut, of } = tally(run)
  const sums = [
    `${count(passed)} of ${plural(of, 'step')} as designed`,
    ...(differs ? [`${count(differs)} differ`] : []),
    ...(open ? [`${count(open)} not gone through`] : []),
    ...(leftOut ? [`${count(leftOut)} left out`] : []),
  ]
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="nolvi-fingerprint" content="${html(run.fingerprint)}"><link rel="icon" href="data:,"><title>${html(`Commissioning of ${design.name}`)}</title>
<style>@page{margin:14mm}body{font:10.5pt/1.35 "Atkinson Hyperlegible Next Variable",system-ui,sans-serif;color:#24211d;background:#fff;max-width:60rem;margin:2rem auto;padding:0 1rem}h1{font-size:16pt;margin:0}h2{font-size:12pt;margin:1.2rem 0 .2rem}p{margin:.2rem 0}table{border-collapse:collapse;width:100%}td{text-align:left;padding:.25rem .6rem .25rem 0;border-bottom:1px solid #c4baa8;vertical-align:top}td.mark{width:8.5rem;white-space:nowrap}.second{color:#655e53}code{font-family:ui-monospace,monospace;font-weight:700}.sign{margin-top:2rem;display:flex;gap:2rem}.sign span{flex:1;border-top:1px solid #24211d;padding-top:.2rem}@media print{body{margin:0}tr,h2{break-inside:avoid}h2{break-after:avoid}}</style></head>
<body><h1>Commissioning of ${html(design.name)}</h1>
<p>${html([design.place, `revision ${run.revision}`].filter(Boolean).join(' \u00b7 '))} \u00b7 table <code>${html(run.fingerprint)}</code></p>
<p>${html(`${day}. ${sums.join(', ')}.`)}</p>
${sections.join('\n')}
<p class="second">What is heard over a link is told with the time it took. Mains, gas and heat are for licensed hands and local codes; this sheet replaces no inspection.</p>
<div class="sign"><span>Gone through by</span><span>Date</span></div>
</body></html>
`
}

function row(step: Commissioning['steps'][number], result: Result | undefined): string {
  const state = result?.state ?? 'later'
  const times = (result?.heard ?? [])
    .filter(h => h.state === 'held')
    .map(h => (h.ms === null ? h.words : `${h.words} after ${h.ms} ms`))
  const lines = [
    step.does,
    ...(result?.answer ? [`${step.asks} ${ANSWER_WORDS[result.answer]}`] : []),
    ...times,
    ...(result?.cause ? [result.cause] : []),
  ]
  return `<tr><td class="mark">${MARKS[state]} ${WORDS[state]}</td><td><strong>${html(step.about)}</strong><br><span class="second">${lines.filter(Boolean).map(html).join('<br>')}</span></td></tr>`
}

const ANSWER_WORDS = {
  yes: 'Yes.',
  no: 'No.',
  another: 'Another one did.',
  opposite: 'It did the opposite.',
} as const
