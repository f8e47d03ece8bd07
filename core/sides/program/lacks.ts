/**
 * What a design asks of its controller that the program made from it does not do. The bench, the
 * stand-in and the proof do.
 */
import { compileController } from '../../controller/program'
import { FIRST_EXPANDED } from '../../boards/schema'
import { expandersOf, handSurfaces, lampsOf } from '../../design/find'
import { LINK_WORDS } from '../../design/links/rows'
import { onNetwork } from '../../design/links/traits'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { isReceiver } from '../../design/sensors/traits'
import { sensorLines } from '../../design/sensors/rows'
import { linesOf } from '../../design/values'
import { FRONT_WIRE, frontWire } from '../front-wire'
import { carriedDesign, carriedLinks } from './carried'
import { engineLacks } from './tables'
import { canRead } from './wiring'

/** In words, each with where it stands in the document. */
export function programLacks(part: Design): { path: string; words: string }[] {
  const out: { path: string; words: string }[] = []
  const expanded = (pins: readonly number[]) => pins.some(p => p >= FIRST_EXPANDED)
  part.loads.forEach(({ name, output }, i) => {
    if (expanded(linesOf(output).map(l => l.pin)))
      out.push({ path: `/loads/${i}/output`, words: `what ${name} does on pins of an expander` })
  })
  lampsOf(part).forEach(({ name, pin }, i) => {
    if (expanded([pin]))
      out.push({ path: `/controllers/0/lamps/${i}`, words: `the lamp ${name} on an expander` })
  })
  if (handSurfaces(part).some(s => s.controls.some(c => expanded([c.pin]))))
    out.push({
      path: '/surfaces',
      words: `hand controls on ${expandersOf(part)
        .map(e => e.name)
        .join(' and ')}`,
    })
  part.sensors.forEach((s, i) => {
    const path = `/sensors/${i}`
    if (isReceiver(s) && s.keys.length) out.push({ path, words: `keys of ${s.name}` })
    else if (!canRead(s, boardOf(part)) || expanded(sensorLines(s).map(l => l.pin)))
      out.push({ path, words: `reading ${s.name}` })
  })
  const carried = carriedLinks(part).map(c => c.link)
  const byFront = carried.some(l => l.id === FRONT_WIRE)
  part.links.forEach((l, i) => {
    if (!carried.some(c => c.id === l.id) && !(byFront && onNetwork(l)))
      out.push({ path: `/links/${i}`, words: `${LINK_WORDS[l.kind]} on ${l.name}` })
  })
  if (part.front && frontWire(part) && !byFront)
    out.push({ path: '/front', words: `the wire to ${part.front.name}` })
  for (const words of engineLacks(compileController(carriedDesign(part))))
    out.push({ path: '/links', words })
  return out
}
