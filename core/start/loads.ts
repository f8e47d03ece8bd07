/** What a beginner's loads are: how each is driven, fed and what it can do to somebody. */
import type { Danger, Output, Wiring } from '../design/schema'

export const LOAD_IDS = [
  'lamp',
  'dimmer',
  'fan',
  'heater',
  'pump',
  'strike',
  'blind',
  'other',
] as const
export type LoadId = (typeof LOAD_IDS)[number]

/**
 * `words`: with its article, as it stands in a sentence. `name`: of the load. Loads are those of a
 * bench at 12 V, to be changed for what is really there: nothing is said of mains.
 */
export interface LoadStart {
  words: string
  name: string
  kind: Output['kind']
  dangers: Danger[]
  wiring: Partial<Wiring>
}

const at12 = (
  type: NonNullable<Wiring['load']>['type'],
  amps: number,
): Pick<Wiring, 'load' | 'contact'> => ({
  load: { type, volts: 12, amps, mains: false },
  contact: { ratedAmps: 10, inrushAmps: 30 },
})

export const LOADS: Readonly<Record<LoadId, LoadStart>> = {
  lamp: {
    words: 'a lamp',
    name: 'Lamp',
    kind: 'switched',
    dangers: [],
    wiring: at12('led-driver', 0.5),
  },
  dimmer: {
    words: 'a dimmed lamp',
    name: 'Dimmed lamp',
    kind: 'level',
    dangers: [],
    wiring: {},
  },
  fan: {
    words: 'a fan',
    name: 'Fan',
    kind: 'switched',
    dangers: [],
    wiring: at12('motor', 0.6),
  },
  heater: {
    words: 'a heater',
    name: 'Heater',
    kind: 'switched',
    dangers: ['heat'],
    wiring: at12('resistive', 3),
  },
  pump: {
    words: 'a pump',
    name: 'Pump',
    kind: 'switched',
    dangers: ['water'],
    wiring: at12('motor', 1.5),
  },
  strike: {
    words: 'a door strike',
    name: 'Door strike',
    kind: 'pulsed',
    dangers: ['lock'],
    wiring: at12('solenoid', 0.5),
  },
  blind: {
    words: 'a roller blind',
    name: 'Roller blind',
    kind: 'opposed',
    dangers: ['motion'],
    wiring: at12('motor', 1),
  },
  other: {
    words: 'something else',
    name: 'Load',
    kind: 'switched',
    dangers: [],
    wiring: {},
  },
}
