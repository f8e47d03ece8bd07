/** A linear regulator: headroom and heat. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface RegulatorInputs {
  inputVolts: number
  outputVolts: number
  amps: number
  /** What it can give. */
  maxAmps: number
  dropoutVolts: number
  ambientCelsius: number
  thermalKelvinPerWatt: number
  junctionMaxCelsius: number
}
export const REGULATOR_DEFAULTS = {
  maxAmps: 1,
  dropoutVolts: 1.2,
  ambientCelsius: 40,
  thermalKelvinPerWatt: 90,
  junctionMaxCelsius: 125,
} as const

export const REGULATOR_RANGES: Ranges<RegulatorInputs> = {
  inputVolts: range('Input', 'V', 1, 60),
  outputVolts: range('Output', 'V', 0.8, 48),
  amps: range('Current', 'A', 1e-4, 100),
  maxAmps: range('Limit', 'A', 1e-3, 100),
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
      limit('current', i.amps / i.maxAmps, 'a regulator for more current'),
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

export type SwitchingInputs = Pick<
  RegulatorInputs,
  'inputVolts' | 'outputVolts' | 'amps' | 'maxAmps' | 'dropoutVolts'
> & {
  /** Output over input power, 0.85 = 85 %. */
  efficiency: number
}
const { inputVolts, outputVolts, amps, maxAmps, dropoutVolts } = REGULATOR_RANGES
export const SWITCHING_RANGES: Ranges<SwitchingInputs> = {
  inputVolts,
  outputVolts,
  amps,
  maxAmps,
  dropoutVolts,
  efficiency: range('Efficiency', '', 0.3, 1),
}

/** A step-down regulator: what it takes, what it loses. Throws `BadInput` out of range. */
export function switchingRegulator(given: SwitchingInputs): Sum {
  const i = inRange(given, SWITCHING_RANGES)
  const out = i.outputVolts * i.amps
  return sum(
    [
      figure(
        'Ii',
        'current that it takes',
        out / i.efficiency / i.inputVolts,
        'A',
        'output x I / efficiency / input',
      ),
      figure('P', 'heat', out / i.efficiency - out, 'W', 'output x I x (1 / efficiency - 1)'),
    ],
    [
      limit('current', i.amps / i.maxAmps, 'a regulator for more current'),
      limit(
        'headroom',
        (i.outputVolts + i.dropoutVolts) / i.inputVolts,
        'a higher input voltage: it only steps down',
      ),
    ],
    'power in is power out over efficiency, as in data sheets of step-down regulators',
  )
}
