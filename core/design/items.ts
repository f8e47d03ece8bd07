/** What stands on panels, and what a reading starts with on a link. */
import { loadOf } from './find'
import { partTitle } from './forms/forms'
import type { ReadingForm } from './sensors/facet'
import { BROKEN_FLOAT } from './sensors/ladder'
import { sensorRow } from './sensors/rows'
import type {
  ByteLink,
  Design,
  Guard,
  Link,
  LinkReading,
  PanelItem,
  PanelKey,
  PanelSurface,
  Sensor,
} from './schema'
import { hasBareCodes } from './wire'
import { speaksBytes } from './links/traits'

export const GUARD_WORDS: Record<Guard, string> = {
  none: 'no guard',
  slide: 'slide the lock first',
  hold: 'hold to confirm',
  pin: 'PIN of the page',
  unlock: 'unlock of the phone',
}

/** Everything on a panel, keys first. */
export function itemsOf(panel: Pick<PanelSurface, 'keys' | 'parts'>): PanelItem[] {
  return [...panel.keys, ...panel.parts]
}

/** JSON Pointer to it. */
export function itemPath(
  design: Pick<Design, 'surfaces'>,
  panel: PanelSurface,
  item: PanelItem,
): string {
  const list = isKey(item) ? 'keys' : 'parts'
  return `/surfaces/${design.surfaces.findIndex(s => s.id === panel.id)}/${list}/${panel[list].findIndex(i => i.id === item.id)}`
}

/** Whether something on a panel commands a load. */
export function isKey(item: PanelItem): item is PanelKey {
  return 'loadId' in item
}

/** What people call it: the load, reading or scene that it is for. */
export function itemTitle(design: Design, item: PanelItem): string {
  return isKey(item) ? loadOf(design, item.loadId).name : partTitle(design, item)
}

/** Sensors with a value to tell. Knobs and remote controls ask for things, they tell nothing. */
export function hasReading(sensor: Sensor): boolean {
  return sensorRow(sensor).reading !== null
}

/** Unit of what a sensor tells; "" where it has none. */
export function unitOf(sensor: Sensor): string {
  return sensorRow(sensor).reading?.unit(sensor) ?? ''
}

/** A reading in words: "21.5 \u00B0C", "open", "float broken". */
export function readingWords(sensor: Sensor, text: string): string {
  if (text === '') return 'not known'
  return text === BROKEN_FLOAT ? 'float broken' : `${text} ${unitOf(sensor)}`.trim()
}

/** The scale that a sensor is shown on, where nobody says more. */
export function scaleOf(sensor: Sensor): { low: number; high: number } {
  return sensorRow(sensor).reading?.scale(sensor) ?? { low: 0, high: 1 }
}

/** Forms that show what a sensor tells, the first by default. */
export function readingForms(sensor: Sensor): readonly ReadingForm[] {
  return sensorRow(sensor).reading?.forms ?? []
}

/**
 * A reading as it starts on a link: told when it moved by a fiftieth of its scale, at most once a
 * second, and every minute.
 */
export function newReading(link: Link, sensor: Sensor): LinkReading {
  const { low, high } = scaleOf(sensor)
  const told = {
    sensorId: sensor.id,
    deadBand: sensorRow(sensor).reading?.jumps ? 0 : Math.round(Math.abs(high - low) * 2) / 100,
    leastMs: 1000,
    everyMs: 60_000,
  }
  return speaksBytes(link) ? { ...told, code: freshCode(link, sensor) } : { ...told, route: '' }
}

/** Short on links of short codes, else the id of the sensor. */
function freshCode(link: ByteLink, sensor: Sensor): string {
  if (!hasBareCodes(link)) return sensor.id
  const taken = new Set(link.readings.map(r => r.code))
  const reports = link.messages.flatMap(m => Object.values(m.codes))
  return (
    [...'TUVWXYZtuvwxyzABCDEFGHIJKLMNOPQRS'].find(
      c => !taken.has(c) && !reports.some(r => r.startsWith(c)),
    ) ?? `T${taken.size}`
  )
}
