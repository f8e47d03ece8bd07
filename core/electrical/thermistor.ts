/**
 * A thermistor in a divider: reading at a temperature, how fine it reads there, and how much it
 * warms itself.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface ThermistorInputs {
  supplyVolts: number
  seriesOhms: number
  /** Resistance at 25 °C, and B of the data sheet, K. */
  ohmsAt25: number
  beta: number
  celsius: number
  bits: number
  /** mW/K in still air are common for small beads: here W/K. */
  wattsPerKelvin: number
}
export const THERMISTOR_DEFAULTS = {
  seriesOhms: 10_000,
  ohmsAt25: 10_000,
  beta: 3950,
  celsius: 25,
  bits: 10,
  wattsPerKelvin: 0.0015,
} as const
const KELVIN = 273.15
/**
 * Self-heating that is small beside what is measured, K, and the finest step that is still of use,
 * K.
 */
const SELF_HEATING = 0.5
const FINE_ENOUGH = 0.5

export const THERMISTOR_RANGES: Ranges<ThermistorInputs> = {
  supplyVolts: range('Supply', 'V', 1, 30),
  seriesOhms: range('Series resistor', 'Ω', 100, 1e7),
  ohmsAt25: range('Resistance at 25 °C', 'Ω', 10, 1e7),
  beta: range('B', '', 1000, 10_000),
  celsius: range('Temperature', '°C', -55, 300),
  bits: range('Bits', '', 6, 24),
  wattsPerKelvin: range('Dissipation constant, W/K', '', 1e-5, 1),
}

/** Resistance by the B equation. */
export function thermistorOhms(ohmsAt25: number, beta: number, celsius: number): number {
  return ohmsAt25 * Math.exp(beta * (1 / (celsius + KELVIN) - 1 / (25 + KELVIN)))
}

/** What a thermistor gives at a pin, by its B value. Throws `BadInput` out of range. */
export function thermistor(given: ThermistorInputs): Sum {
  const i = inRange(given, THERMISTOR_RANGES)
  const ohms = thermistorOhms(i.ohmsAt25, i.beta, i.celsius)
  const volts = (i.supplyVolts * ohms) / (ohms + i.seriesOhms)
  const share = volts / i.supplyVolts
  // dV/dT of the divider: V (1 - V/supply) B / T².
  const perKelvin = (volts * (1 - share) * i.beta) / (i.celsius + KELVIN) ** 2
  const step = i.supplyVolts / 2 ** i.bits / perKelvin
  const heating = volts ** 2 / ohms / i.wattsPerKelvin
  return sum(
    [
      figure('Rt', 'resistance there', ohms, 'Ω', 'R25 x exp(B x (1/T - 1/298.15))'),
      figure('Vt', 'at the pin', volts, 'V', 'supply x Rt / (Rt + R)'),
      figure('n', 'reading', Math.round(share * 2 ** i.bits), '', 'Vt / supply x 2^bits'),
      figure(
        'dT',
        'one step of the converter',
        step,
        '°C',
        'supply / 2^bits / (Vt x (1 - Vt/supply) x B / T²)',
      ),
      figure('Th', 'warms itself by', heating, '°C', 'Vt² / Rt / dissipation constant'),
    ],
    [
      limit(
        'fine enough, half a degree',
        step / FINE_ENOUGH,
        'a series resistor near the resistance at this temperature, or a converter of more bits',
      ),
      limit(
        'self-heating, half a degree',
        heating / SELF_HEATING,
        'a thermistor of more resistance, or feed the divider only while reading',
      ),
    ],
    'B equation of thermistor data sheets; divider and dissipation constant as there',
  )
}
