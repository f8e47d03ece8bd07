/** A line behind an optocoupler: the resistor of its lamp, and what its transistor can pull. */
import { preferredBelow } from '../units/e-series'
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface OptoInputs {
  pinVolts: number
  pinMaxAmps: number
  /** Voltage across the lamp, and the current wanted through it. */
  lampVolts: number
  lampAmps: number
  /** Current transfer at its least, 0.5 = 50 %. */
  transferMin: number
  /** The line that is pulled down: its voltage and its pull-up. */
  lineVolts: number
  lineOhms: number
}
export const OPTO_DEFAULTS = {
  lampVolts: 1.2,
  lampAmps: 0.005,
  transferMin: 0.5,
  lineVolts: 5,
  lineOhms: 10_000,
} as const

export const OPTO_RANGES: Ranges<OptoInputs> = {
  pinVolts: range('Pin high', 'V', 1, 6),
  pinMaxAmps: range('Pin limit', 'A', 1e-4, 1),
  lampVolts: range('Lamp voltage', 'V', 0.5, 4),
  lampAmps: range('Lamp current', 'A', 1e-4, 0.1),
  transferMin: range('Least current transfer', '', 0.01, 20),
  lineVolts: range('Line', 'V', 0.5, 60),
  lineOhms: range('Pull-up of the line', 'Ω', 100, 1e7),
}

/** An optocoupler, and the resistor of its lamp. Throws `BadInput` out of range. */
export function opto(given: OptoInputs): Sum {
  const i = inRange(given, OPTO_RANGES)
  const wanted = Math.max(1, (i.pinVolts - i.lampVolts) / i.lampAmps)
  const ohms = preferredBelow(wanted)
  const lamp = Math.max(0, i.pinVolts - i.lampVolts) / ohms
  const line = i.lineVolts / i.lineOhms
  return sum(
    [
      figure('Rw', 'resistor wanted', wanted, 'Ω', '(pin - lamp) / lamp current'),
      figure('R', 'next smaller of E24', ohms, 'Ω', 'E24 (IEC 60063)'),
      figure('If', 'lamp current', lamp, 'A', '(pin - lamp) / R'),
      figure(
        'Ic',
        'its transistor pulls at least',
        lamp * i.transferMin,
        'A',
        'If x current transfer',
      ),
      figure('Il', 'the line wants', line, 'A', 'line / pull-up'),
    ],
    [
      limit('pin current', lamp / i.pinMaxAmps, 'less lamp current'),
      limit(
        'pull on the line, with a factor of two for age',
        (2 * line) / Math.max(1e-12, lamp * i.transferMin),
        'more lamp current, or a coupler of more transfer',
      ),
      limit(
        'voltage left for the resistor',
        i.lampVolts / Math.max(1e-9, i.pinVolts) / 0.8,
        'a coupler whose lamp takes less voltage',
      ),
    ],
    'series resistor and current transfer ratio, as in optocoupler data sheets; transfer falls by half in its life',
    ['The two sides share no ground: that is what it is for.'],
  )
}
