/** What happens to a controller, and what it does, as a board of its own can be given and asked. */
import type { ControllerEvent, Effect, Level } from '../controller/state'
import type { Raw } from '../controller/readings'
import { compileController } from '../controller/program'
import { meaningOf } from '../messages/meaning'
import { onNetwork } from '../design/links/traits'
import { linkOfSeat, seated } from '../design/seats'
import type { Design } from '../design/schema'
import { wireOf } from '../design/wire'
import { FRONT_WIRE, frontWire } from '../sides/front-wire'

/** Times are ms of the run. */
export type Happens = { t: number } & (
  | { kind: 'boot'; levels: readonly Level[] }
  | { kind: 'powerOff' }
  | { kind: 'pin'; input: number; level: Level }
  | { kind: 'knob'; knob: number; a: Level; b: Level }
  | { kind: 'infrared'; address: number; command: number; repeat: boolean; sensor: number }
  | { kind: 'received'; linkId: string; text: string }
  | { kind: 'link'; linkId: string; up: boolean }
  | { kind: 'sample'; sensor: number; raw: Raw }
)
export type Does = { t: number } & (
  | { kind: 'line'; load: number; line: number; level: number }
  | { kind: 'said'; linkId: string; text: string }
)

/** What a run of the bench is made of, event by event. */
export interface Heard {
  happens: Happens[]
  does: Does[]
}
export type Listener = (event: ControllerEvent, effects: readonly Effect[]) => Heard

/** Tells the events of a bench with the part of one board. */
export function listenerOf(part: Design): Listener {
  const design = seated(part)
  const ids = design.links.map(l => linkOfSeat(design, l.id))
  const passedOn = frontPasses(part, design)
  return (event, effects) => ({
    happens: happensOf(event, ids, passedOn),
    does: effects.flatMap((e): Does[] => {
      const t = event.now
      if (e.kind === 'pin') return [{ t, kind: 'line', load: e.load, line: e.line, level: e.level }]
      return e.kind === 'send' ? [{ t, kind: 'said', linkId: ids[e.link] ?? '', text: e.text }] : []
    }),
  })
}

function happensOf(
  event: ControllerEvent,
  ids: readonly string[],
  passedOn: (link: number, text: string) => string | null,
): Happens[] {
  const t = event.now
  switch (event.kind) {
    case 'boot':
      return [{ t, kind: 'boot', levels: [...event.levels] }]
    case 'powerOff':
      return [{ t, kind: 'powerOff' }]
    case 'pin':
      return [{ t, kind: 'pin', input: event.input, level: event.level }]
    case 'knob':
      return [{ t, kind: 'knob', knob: event.knob, a: event.a, b: event.b }]
    case 'infrared': {
      const { sensor, address, command, repeat } = event
      return [{ t, kind: 'infrared', sensor, address, command, repeat }]
    }
    case 'received': {
      const linkId = ids[event.link] ?? ''
      const passed = passedOn(event.link, event.text)
      if (passed === null) return [{ t, kind: 'received', linkId, text: event.text }]
      return passed ? [{ t, kind: 'received', linkId: FRONT_WIRE, text: passed }] : []
    }
    case 'linkUp':
    case 'linkDown': {
      const linkId = ids[event.link] ?? ''
      return [{ t, kind: 'link', linkId, up: event.kind === 'linkUp' }]
    }
    case 'sample':
      return [{ t, kind: 'sample', sensor: event.sensor, raw: event.raw }]
    default:
      return []
  }
}

/**
 * What a board in front passes on over its wire, for what comes over the network: lines, "" where
 * it answers by itself; null where there is none, or a proof would have to be looked at.
 */
function frontPasses(part: Design, design: Design): (link: number, text: string) => string | null {
  const wire = frontWire(part)
  if (!wire) return () => null
  const program = compileController(design)
  return (nth, text) => {
    const link = program.links[nth]
    if (!link || !onNetwork(link.link) || link.link.auth.kind !== 'none') return null
    const meaning = meaningOf(link, text)
    const sets: { load: number; value: string }[] = []
    if (meaning?.kind === 'set') sets.push(meaning)
    if (meaning?.kind === 'scene') sets.push(...meaning.sets)
    return sets
      .map(({ load, value }) => {
        const { id } = design.loads[load] ?? {}
        const codes = wire.messages.find(m => m.loadId === id)?.codes as
          Record<string, string> | undefined
        return codes?.[value] ? wireOf(wire, codes[value], 'command') : ''
      })
      .join('')
  }
}
