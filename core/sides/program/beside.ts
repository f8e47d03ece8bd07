/**
 * Several engines on one board: one for its own loads, and one more for each link over which it
 * asks others. On a computer each is a service of its own; a board with Wi-Fi has them in one
 * program (`beside-files.ts`), with its radio, its clock and its memory in common.
 */
import { classOf } from '../../boards/classes'
import { FIRST_EXPANDED } from '../../boards/schema'
import { expandersOf, handSurfaces, lampsOf } from '../../design/find'
import { isPeerRadio, isUdp, onNetwork } from '../../design/links/traits'
import { derivedFrom } from '../../design/part'
import { boardOf } from '../../design/pins'
import type { Design, Sensor } from '../../design/schema'
import { sensorLines } from '../../design/sensors/rows'
import { askedBy, type Target } from '../../design/targets'
import { portsOf } from './carried'
import { isActing } from './box'
import { canRead } from './wiring'

/**
 * Why what a board asks over one link cannot be in its program, in words; null where it can.
 * `others`: what is in it already; null: its own loads get no program.
 */
export function whyNotBeside(part: Design, others: readonly Design[] | null): string | null {
  if (others === null) return 'Its board gets no program for its own loads.'
  const [link] = part.links
  const { program } = classOf(boardOf(part))
  if (!link) return null
  if (pinsOf(part).some(p => p >= FIRST_EXPANDED) && !expandersOf(part).length)
    return 'What is wired to it is on pins of an expander, which belongs to what else its board does.'
  if (!others.length) return null
  if (program === 'avr8')
    return 'Its board has something else to do too, and the program of an 8-bit board does one thing: it switches what it has, or asks over one link.'
  if (others.some(o => o.links.some(l => l.id === link.id)))
    return `It speaks on ${link.name} as another box already.`
  return program === 'linux' ? whyNotByService(part, others) : whyNotByRadio(part, others)
}

/** Pins that it reads. */
function pinsOf(part: Design): number[] {
  return [
    ...handSurfaces(part).flatMap(s => s.controls.map(c => c.pin)),
    ...part.sensors.flatMap(s => sensorLines(s).map(l => l.pin)),
  ]
}

/** A line of a computer belongs to one process. */
function whyNotByService(part: Design, others: readonly Design[]): string | null {
  const shared = part.sensors.find(s => others.some(o => isReadBy(s, o)))
  return shared
    ? `${shared.name} acts on other things too, and a line of a computer is read by one program.`
    : null
}

/** There is one radio, and one program has each port. */
function whyNotByRadio(part: Design, others: readonly Design[]): string | null {
  const links = others.flatMap(o => portsOf(o).map(p => p.link))
  const has = (design: Design, port: string) => portsOf(design).some(p => p.port === port)
  if (part.links.some(isPeerRadio) && links.some(isPeerRadio))
    return 'Its board speaks from board to board to another one already.'
  const opens = (of: readonly Design['links'][number][]) =>
    of.some(l => onNetwork(l) && l.network === 'own')
  if (opens(part.links) && opens(links))
    return 'Its board opens a network itself, and would have to join one of the same name.'
  if (has(part, 'own') && others.some(o => has(o, 'own')))
    return 'Its board has another serial link already, and its engines have no port in common.'
  return null
}

/** Whether a part has a sensor, and reads it. */
function isReadBy(sensor: Sensor, part: Design): boolean {
  return part.sensors.some(s => s.id === sensor.id) && canRead(sensor, boardOf(part))
}

/**
 * A part whose board asks others too, as the engine for its own loads has it: what nobody tells or
 * uses there is read by another engine, or by none.
 */
export function readForItself(part: Design): Design {
  const told = new Set(part.links.flatMap(l => l.readings.map(r => r.sensorId)))
  const asks = (target: Target) =>
    askedBy(part, target).some(a => part.loads.some(l => l.id === a.loadId))
  const sensors = part.sensors.filter(s => told.has(s.id) || isActing(s, part, asks))
  return derivedFrom(part, { ...part, sensors })
}

/** A sensor of an engine, by its place there, and the engines behind it that are told of it. */
export interface Told {
  sensor: Sensor
  at: number
  to: { nth: number; at: number }[]
}

/**
 * What one of several engines reads for others too: the first that has a sensor reads it and tells
 * the others, for a thermometer answers who asked it, and a remote comes by one interrupt.
 */
export function toldBy(engines: readonly Design[], nth: number): Told[] {
  return (engines[nth]?.sensors ?? []).flatMap((sensor, at) => {
    if (isReadBefore(engines, nth, sensor)) return []
    const to = engines.flatMap((e, i) => {
      const there = e.sensors.findIndex(s => s.id === sensor.id)
      return i > nth && there >= 0 ? [{ nth: i, at: there }] : []
    })
    return to.length ? [{ sensor, at, to }] : []
  })
}

/** Whether an engine before has a sensor too, and reads it. */
export function isReadBefore(engines: readonly Design[], nth: number, { id }: Sensor): boolean {
  return engines.slice(0, nth).some(e => e.sensors.some(s => s.id === id))
}

/** Lamps of an engine behind the first that the first has too, by their places in both. */
export function lampsShared(engines: readonly Design[], nth: number): { at: number; of: number }[] {
  const [first, engine] = [engines[0], engines[nth]]
  if (!first || !engine || nth === 0) return []
  return lampsOf(engine).flatMap((lamp, at) => {
    const of = lampsOf(first).findIndex(l => l.id === lamp.id)
    return of < 0 ? [] : [{ at, of }]
  })
}

/**
 * The port on which answers to datagrams of a box are heard, where the one that it asks on is taken
 * on its board; null: the same.
 */
export function hearsOn(part: Design, others: readonly Design[]): number | null {
  const taken = others.flatMap(o => o.links.filter(isUdp).map(l => l.port))
  const asked = part.links.find(isUdp)?.port
  if (asked === undefined || !taken.includes(asked)) return null
  let port = asked
  while (taken.includes(port) || port === asked) port = port < 65_535 ? port + 1 : 1024
  return port
}
