/** What a design asks of its controller that the program made from it does not do yet. The bench, the stand-in and the proof do. */
import { handSurfaces } from '../design/find'
import type { Design } from '../design/schema'

/** In words, each with where it stands in the document. */
export function sketchLacks(design: Design): { path: string, words: string }[] {
  const out: { path: string, words: string }[] = []
  design.loads.forEach(({ name, output }, i) => {
    const path = `/loads/${i}/output`
    if (output.kind === 'switched' && output.limits) out.push({ path, words: `least and longest times of ${name}` })
    if (output.kind === 'opposed' && (output.forwardEnd !== null || output.reverseEnd !== null)) out.push({ path, words: `end contacts of ${name}` })
    if (output.kind === 'follower' && output.round) out.push({ path, words: `the shorter way round of ${name}` })
  })
  for (const c of handSurfaces(design).flatMap(s => s.controls)) if (c.kind === 'latching' && c.acts === 'position' && c.atStart === 'follow') out.push({ path: '/surfaces', words: `following the lever ${c.id} at a start` })
  design.links.forEach((l, i) => {
    const more = [l.leastMs ? 'least time between reports' : '', l.everyMs ? 'state from time to time' : '', l.queue ? 'queue' : '', l.numbered ? 'numbers of commands' : '', l.kind !== 'http' && l.restartMark ? 'mark of a start' : ''].filter(Boolean)
    if (more.length) out.push({ path: `/links/${i}`, words: `${more.join(', ')} on ${l.name}` })
  })
  design.rules.forEach((r, i) => out.push({ path: `/rules/${i}`, words: `rule ${r.name}` }))
  return out
}
