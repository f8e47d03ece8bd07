/** What a sensor gives, as it stands on the pins of an emulated board. */
import type { Raw } from '../controller/readings'
import type { Sensor, SensorKind, SensorOf } from '../design/schema'
import type { AvrBoard } from './board'
import type { LineThermometer } from './parts'

/** Pins as they are printed on the board; those of expanders are set by whoever has them. */
export interface Senses {
  board: AvrBoard
  supplyVolts: number
  setPin: (pin: number, level: 0 | 1) => void
  thermometer: (pin: number) => LineThermometer | undefined
}

const COUNTS = 1024
const KELVIN = 273.15
/** The first analog pin as it is counted on the board. */
const FIRST_ANALOG = 14

/** A voltage in the middle of what is read as so many counts. */
const countsVolts = (counts: number, supply: number) => ((counts + 0.5) / COUNTS) * supply
const divided = (divider: { upperOhms: number; lowerOhms: number } | null) =>
  divider ? divider.lowerOhms / (divider.upperOhms + divider.lowerOhms) : 1

type Sense<S extends Sensor> = (sensor: S, raw: readonly [number, number], at: Senses) => void
const volts = ({ board }: Senses, pin: number, given: number) =>
  board.measure(pin - FIRST_ANALOG, given)

const SENSES: { [K in SensorKind]: Sense<SensorOf<K>> } = {
  infrared: () => undefined,
  knob: () => undefined,
  contact: ({ pin }, [closed], { setPin }) => setPin(pin, closed ? 0 : 1),
  floats: ({ floats }, [bits], { setPin }) =>
    floats.forEach(({ pin }, i) => setPin(pin, (bits >> i) & 1 ? 0 : 1)),
  thermometer: ({ pin }, [tenths], { thermometer }) => {
    const part = thermometer(pin)
    if (part) part.sixteenths = Math.round(tenths * 1.6)
  },
  thermistor: ({ pin, ohmsAt25, seriesOhms, beta }, [tenths], at) => {
    // The B equation, turned round: ohms at so many degrees.
    const ohms = ohmsAt25 * Math.exp(beta * (1 / (tenths / 10 + KELVIN) - 1 / (25 + KELVIN)))
    volts(at, pin, (at.supplyVolts * ohms) / (ohms + seriesOhms))
  },
  analog: ({ pin, calibration, divider }, [value], at) =>
    volts(
      at,
      pin,
      calibration ? countsVolts(value, at.supplyVolts) : (value / 1000) * divided(divider),
    ),
  battery: (sensor, [millivolts], at) =>
    volts(at, sensor.pin, (millivolts / 1000) * divided(sensor)),
  'two-axis': ({ pin, pinB }, [x, y], at) => {
    const counts = (perCent: number) => ((COUNTS - 1) * (1 + perCent / 100)) / 2
    volts(at, pin, countsVolts(counts(x), at.supplyVolts))
    volts(at, pinB, countsVolts(counts(y), at.supplyVolts))
  },
}

/** Gives an emulated board what a sensor gives. */
export function sense(sensor: Sensor, raw: Raw, at: Senses): void {
  const row = SENSES[sensor.kind] as Sense<Sensor>
  row(sensor, [raw[0] ?? 0, raw[1] ?? 0], at)
}
