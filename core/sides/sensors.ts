/** How sensors are wired, and what is bought for them: a row each. */
import { boardOf } from '../design/pins'
import type { Design, Sensor, SensorKind, SensorOf } from '../design/schema'
import { showQuantity } from '../units/quantity'

/** A part, its value, how many of it; one where nothing is said. */
export type SensorPart = readonly [part: string, value: string, count?: number]

interface SensorPapers<S extends Sensor> {
  /** How its line is wired. `volts`: what the board works with, in words. */
  wired(sensor: S, volts: string): string
  parts(sensor: S): SensorPart[]
}

const ohms = (value: number) => showQuantity(value, 'Ω')
const meters = (value: number) => showQuantity(value, 'm')
const resistor = (value: number): SensorPart => ['resistor', ohms(value)]
const BUFFER: SensorPart = ['capacitor', '100 nF']

const PAPERS: { [K in SensorKind]: SensorPapers<SensorOf<K>> } = {
  infrared: {
    wired: (_, volts) => `output of a receiver on ${volts}, 100 nF at its supply`,
    parts: () => [['infrared receiver', 'carrier as of the remote'], BUFFER],
  },
  knob: {
    wired: ({ leadMeters }) =>
      `contact to ground, ${meters(leadMeters)} of lead, pull-up in the board`,
    parts: ({ detentsPerTurn }) => [['rotary encoder', `${detentsPerTurn} detents`]],
  },
  contact: {
    wired({ leadMeters, pullOhms }, volts) {
      const pull = pullOhms === null ? 'pull-up in the board' : `${ohms(pullOhms)} to ${volts}`
      return `contact to ground, ${meters(leadMeters)} of lead, ${pull}`
    },
    parts: ({ pullOhms }) => [
      ['contact', 'low voltage'],
      ...(pullOhms === null ? [] : [resistor(pullOhms)]),
    ],
  },
  floats: {
    wired: ({ leadMeters }) =>
      `float contact to ground, ${meters(leadMeters)} of lead, pull-up in the board`,
    parts: ({ floats }) => [['float contact', 'low voltage', floats.length]],
  },
  thermometer: {
    wired: ({ pullOhms, leadMeters }, volts) =>
      `data line, ${ohms(pullOhms)} to ${volts}, ${meters(leadMeters)} of lead`,
    parts: ({ pullOhms }) => [['digital thermometer', 'one line'], resistor(pullOhms)],
  },
  thermistor: {
    wired: ({ seriesOhms }, volts) =>
      `between ${ohms(seriesOhms)} to ${volts} and the thermistor to ground, 100 nF to ground`,
    parts: ({ ohmsAt25, beta, seriesOhms }) => [
      ['thermistor', `${ohms(ohmsAt25)} at 25 °C, B ${beta}`],
      resistor(seriesOhms),
      BUFFER,
    ],
  },
  analog: {
    wired: ({ divider }) =>
      divider
        ? `between ${ohms(divider.upperOhms)} and ${ohms(divider.lowerOhms)} to ground`
        : 'straight, 100 nF to ground',
    parts: ({ divider }) => [
      ...(divider ? [resistor(divider.upperOhms), resistor(divider.lowerOhms)] : []),
      BUFFER,
    ],
  },
  battery: {
    wired: ({ upperOhms, lowerOhms }) =>
      `between ${ohms(upperOhms)} to the battery and ${ohms(lowerOhms)} to ground, fuse at the battery`,
    parts: ({ upperOhms, lowerOhms }) => [
      resistor(upperOhms),
      resistor(lowerOhms),
      ['fuse', '100 mA'],
    ],
  },
  'two-axis': {
    wired: (_, volts) => `slider of a potentiometer between ${volts} and ground`,
    parts: () => [['two-axis stick', 'potentiometers of 10 kΩ']],
  },
}
const papersOf = ({ kind }: Sensor): SensorPapers<Sensor> => PAPERS[kind]

/** How a sensor is wired. */
export function sensorWiring(design: Design, sensor: Sensor): string {
  return papersOf(sensor).wired(sensor, showQuantity(boardOf(design).logicVolts, 'V'))
}

/** What is bought for a sensor. */
export function sensorParts(sensor: Sensor): SensorPart[] {
  return papersOf(sensor).parts(sensor)
}
