/**
 * The wire between a board in front and the controller behind it, as a link: the same loads, in
 * lines of text. The board in front turns what comes over the network into these lines, and what
 * comes back into answers.
 */
import { rows } from '../messages/table'
import { newLink } from '../design/links/rows'
import { onNetwork } from '../design/links/traits'
import type { Design, Link, LinkOf } from '../design/schema'
import { relativeOf, spokenValues } from '../design/values'
import { assign, relativeCode } from '../messages/assign'

export const FRONT_WIRE = 'front-wire'
/** Time between two lines of one sensor at least, ms: some ten sensors fill a slow wire. */
const READING_MS = 250

/** null without a board in front, or where nothing comes over the network. */
export function frontWire(design: Design): LinkOf<'wire'> | null {
  const { front } = design
  const network = design.links.filter(onNetwork)
  if (!front || !network.length) return null
  const ids = new Set(network.flatMap(l => rows(design, l).map(r => r.load.id)))
  const made = newLink('wire', FRONT_WIRE, `wire to ${front.name}`, front.controllerId)
  const wire: typeof made = {
    ...made,
    baud: front.baud,
    receivePin: front.receivePin,
    sendPin: front.sendPin,
    helloCode: 'hello',
    // What came too soon is refused, and whoever asked is told.
    errorText: 'no',
    messages: design.loads
      .filter(l => ids.has(l.id))
      .map(l => ({
        loadId: l.id,
        ack: true,
        change: true,
        codes: Object.fromEntries(spokenValues(l.output).map(v => [v, ''])),
      })),
  }
  const within = (link: Link): Design => ({ ...design, links: [link] })
  const codes = assign(within(wire), wire, 'template')
  const named = {
    ...wire,
    messages: wire.messages.map(m => ({ ...m, codes: codes[m.loadId] ?? m.codes })),
  }
  const sensors = [...new Set(network.flatMap(l => l.readings.map(r => r.sensorId)))]
  const words = new Set(
    named.messages.flatMap(m => Object.values(m.codes).map(code => (code ?? '').split(' ')[0])),
  )
  const readings = sensors.map(sensorId => ({
    sensorId,
    code: words.has(sensorId) ? `${sensorId}-reads` : sensorId,
    deadBand: 0,
    leastMs: READING_MS,
    everyMs: 0,
  }))
  // A step, a time or a number that comes over the network is passed on as one.
  return {
    ...named,
    readings,
    messages: named.messages.map(m => {
      const load = design.loads.find(l => l.id === m.loadId)
      const steps = load
        ? relativeOf(load.output).filter(wish =>
            network.some(
              l =>
                ((l.messages as (typeof m)[]).find(x => x.loadId === m.loadId)?.codes[wish] ?? '')
                !== '',
            ),
          )
        : []
      return {
        ...m,
        codes: {
          ...m.codes,
          ...Object.fromEntries(
            steps.map(wish => [wish, load ? relativeCode(within(named), named, load, wish) : '']),
          ),
        },
      }
    }),
  }
}
