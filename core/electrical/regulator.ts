/** A linear regulator: headroom and heat. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface RegulatorInputs {
  inputVolts: number
  outputVolts: number
  amps: number
  dropoutVolts: number
  ambientCelsius: number
  thermalKelvinPerWatt: number
  junctionMaxCelsius: number
}
export const REGULATOR_DEFAULTS = {
  dropoutVolts: 1.2,
  ambientCelsius: 40,
  thermalKelvinPerWatt: 90,
  junctionMaxCelsius: 125,
} as const

export const REGULATOR_RANGES: Ranges<RegulatorInputs> = {
  inputVolts: range('Input', 'V', 1, 60),
  outputVolts: range('Output', 'V', 0.8, 48),
  amps: range('Current', 'A', 1e-4, 10),
  dropoutVolts: range('Dropout', 'V', 0.05, 5),
  ambientCelsius: range('Surroundings', '°C', -40, 100),
  thermalKelvinPerWatt: range('Thermal resistance', 'K/W', 0.5, 500),
  junctionMaxCelsius: range('Highest junction temperature', '°C', 80, 200),
}

/** Heat of a linear regulator. Throws `BadInput` out of range. */
export function regulator(given: RegulatorInputs): Sum {
  const i = inRange(given, REGULATOR_RANGES)
  const heat = Math.max(0, i.inputVolts - i.outputVolts) * i.amps
  const junction = i.ambientCelsius + heat * i.thermalKelvinPerWatt
  const most =
    (i.junctionMaxCelsius - i.ambientCelsius)
    / i.thermalKelvinPerWatt
    / Math.max(i.inputVolts - i.outputVolts, 1e-6)
  return sum(
    [
      figure('P', 'heat', heat, 'W', '(input - output) x I'),
      figure('Tj', 'junction temperature', junction, '°C', 'surroundings + P x thermal resistance'),
      figure(
        'Im',
        'current at which it becomes too hot',
        most,
        'A',
        '(highest - surroundings) / thermal resistance / (input - output)',
      ),
      figure('n', 'efficiency', (i.outputVolts / i.inputVolts) * 100, '%', 'output / input'),
    ],
    [
      limit(
        'headroom',
        (i.outputVolts + i.dropoutVolts) / i.inputVolts,
        'a higher input voltage or a low-dropout regulator',
      ),
      limit(
        'junction temperature',
        (junction - i.ambientCelsius) / (i.junctionMaxCelsius - i.ambientCelsius),
        'a switching regulator, a lower input voltage, or a heat sink',
      ),
    ],
    'series regulator: the difference becomes heat; thermal resistance as in data sheets',
  )
}
