/**
 * What a design asks of its controller that the program made from it does not do. The bench, the
 * stand-in and the proof do.
 */
import { LINK_WORDS } from '../../design/links/rows'
import { onNetwork } from '../../design/links/traits'
import { inWhole, wholeOf } from '../../design/part'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { isReceiver } from '../../design/sensors/traits'
import { FRONT_WIRE, frontWire } from '../front-wire'
import { lampsLeftOut } from './box'
import { targetOf } from './can-program'
import { portsOf } from './carried'
import type { Compiled } from './engine-files'
import { routerLacks } from './router'
import { frontLacks, isInFront } from './front'
import { engineLacks } from './tables'
import { canRead, receiverOf } from './wiring'

/** Marks of a remote are told apart by their times, which takes an interrupt. */
const RECEIVERS: Record<Compiled, string> = {
  avr8: 'it reads one receiver, on a pin with an interrupt (2 or 3)',
  'wifi-small': 'it reads one receiver, on a pin with an interrupt',
  'wifi-sockets': 'it reads one receiver, on a pin with an interrupt',
  linux: 'a computer hears no marks of a remote',
}

/** In words, each with where it stands in the document. */
export function programLacks(part: Design): { path: string; words: string }[] {
  const target = targetOf(part)
  if (target === 'router') return routerLacks(part)
  const out: { path: string; words: string }[] = []
  const whole = wholeOf(part)
  // A board that asks others reads by each engine what that one needs.
  const pathOf = (list: 'sensors' | 'links', id: string) => {
    const path = `/${list}/${whole[list].findIndex(x => x.id === id)}`
    return whole === part ? path : inWhole(path)
  }
  // Sensors of a board behind are read by that one.
  const sensors = isInFront(part) ? [] : part.sensors
  sensors.forEach((s, i) => {
    const path = pathOf('sensors', s.id)
    if (isReceiver(s) && s.keys.length && receiverOf(part) !== i)
      out.push({ path, words: `keys of ${s.name}: ${RECEIVERS[target ?? 'avr8']}` })
    else if (!canRead(s, boardOf(part))) out.push({ path, words: `reading ${s.name}` })
  })
  const carried = portsOf(part).map(c => c.link)
  const byFront = carried.some(l => l.id === FRONT_WIRE)
  for (const l of part.links)
    if (!carried.some(c => c.id === l.id) && !(byFront && onNetwork(l)))
      out.push({ path: pathOf('links', l.id), words: `${LINK_WORDS[l.kind]} on ${l.name}` })
  if (part.front && frontWire(part) && !byFront)
    out.push({ path: '/front', words: `the wire to ${part.front.name}` })
  if (byFront) out.push(...frontLacks(part))
  const boardId = part.controllers[0]?.id ?? ''
  for (const lamp of lampsLeftOut(part))
    out.push({
      path: inWhole(`/controllers/${whole.controllers.findIndex(c => c.id === boardId)}/lamps`),
      words: `${lamp.name}, for what it asks (its line belongs to the other program)`,
    })
  for (const words of engineLacks(part)) out.push({ path: '/links', words })
  return out
}
