/**
 * What a design asks of its controller that the program made from it does not do yet. The bench,
 * the stand-in and the proof do.
 */
import { handSurfaces, expandersOf, lampsOf } from '../design/find'
import { LINK_WORDS } from '../design/links/rows'
import type { Design, Message } from '../design/schema'
import { numberCode } from '../messages/setpoints'
import { carriedLink, uncarriedLinks } from './carried-link'
import { lacksOf } from './outputs'
import { FRONT_WIRE, frontWire } from './front-wire'
import { speaksBytes } from '../design/links/traits'
import { targetsOf } from '../design/targets'

/** In words, each with where it stands in the document. */
export function sketchLacks(design: Design): { path: string; words: string }[] {
  const out: { path: string; words: string }[] = []
  design.loads.forEach(({ name, output }, i) => {
    const words = lacksOf(output, name)
    if (words) out.push({ path: `/loads/${i}/output`, words })
  })
  lampsOf(design).forEach(({ name }, i) =>
    out.push({ path: `/controllers/0/lamps/${i}`, words: `the lamp ${name}` }),
  )
  expandersOf(design).forEach(({ name }, i) =>
    out.push({ path: `/controllers/0/expanders/${i}`, words: `the pins of ${name}` }),
  )
  for (const c of handSurfaces(design).flatMap(s => s.controls)) {
    if (targetsOf(c).some(({ target }) => 'sceneId' in target))
      out.push({ path: '/surfaces', words: `scenes that ${c.id} asks for` })
    if (c.kind === 'latching' && c.acts === 'position' && c.atStart === 'follow')
      out.push({ path: '/surfaces', words: `following the lever ${c.id} at a start` })
  }
  design.links.forEach((l, i) => {
    const more = [
      l.leastMs ? 'least time between reports' : '',
      l.everyMs ? 'state from time to time' : '',
      l.queue ? 'queue' : '',
      l.numbered ? 'numbers of commands' : '',
      (l.messages as Message[]).some(m => numberCode(m) !== '') ? 'values as numbers' : '',
      speaksBytes(l) && l.restartMark ? 'mark of a start' : '',
    ].filter(Boolean)
    if (more.length) out.push({ path: `/links/${i}`, words: `${more.join(', ')} on ${l.name}` })
  })
  for (const l of uncarriedLinks(design))
    out.push({
      path: `/links/${design.links.indexOf(l)}`,
      words: `${LINK_WORDS[l.kind]} on ${l.name}`,
    })
  if (
    design.front
    && !uncarriedLinks(design).length
    && carriedLink(design)?.id !== FRONT_WIRE
    && frontWire(design)
  )
    out.push({ path: '/front', words: `the wire to ${design.front.name}` })
  design.sensors.forEach((s, i) => {
    const path = `/sensors/${i}`
    if (s.kind === 'infrared' && s.keys.length) out.push({ path, words: `keys of ${s.name}` })
    else if (s.kind === 'knob') out.push({ path, words: `turning ${s.name}` })
    else if (design.links.some(l => l.readings.some(r => r.sensorId === s.id)))
      out.push({ path, words: `readings of ${s.name}` })
  })
  design.rules.forEach((r, i) => out.push({ path: `/rules/${i}`, words: `rule ${r.name}` }))
  return out
}
