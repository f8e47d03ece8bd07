/**
 * A stepper: heat of its driver, and the rate above which the current no longer follows the steps.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface StepperInputs {
  supplyVolts: number
  phaseOhms: number
  phaseHenries: number
  phaseAmps: number
  driverMaxAmps: number
  stepHz: number
  stepsPerTurn: number
}

export const STEPPER_RANGES: Ranges<StepperInputs> = {
  supplyVolts: range('Motor supply', 'V', 1, 100),
  phaseOhms: range('Phase', 'Ω', 0.05, 1000),
  phaseHenries: range('Phase inductance', 'H', 1e-5, 10),
  phaseAmps: range('Phase current', 'A', 0.01, 50),
  driverMaxAmps: range('Driver limit', 'A', 0.01, 100),
  stepHz: range('Steps a second', 'Hz', 1, 1e6),
  stepsPerTurn: range('Steps a turn', '', 1, 100_000),
}

/** Steps a second that a winding follows. Throws `BadInput` out of range. */
export function stepper(given: StepperInputs): Sum {
  const i = inRange(given, STEPPER_RANGES)
  const most = i.supplyVolts / (2 * i.phaseHenries * i.phaseAmps)
  return sum(
    [
      figure(
        'fm',
        'steps a second that the current follows',
        most,
        'Hz',
        'supply / (2 x inductance x current)',
      ),
      figure('n', 'turns a second', i.stepHz / i.stepsPerTurn, '', 'steps a second / steps a turn'),
      figure(
        'P',
        'heat of the motor, both phases',
        2 * i.phaseAmps ** 2 * i.phaseOhms,
        'W',
        '2 x current² x phase',
      ),
    ],
    [
      limit(
        'driver current',
        i.phaseAmps / i.driverMaxAmps,
        'set the driver to less current, or take a larger one',
      ),
      limit(
        'current at standstill',
        (i.phaseAmps * i.phaseOhms) / i.supplyVolts,
        'a higher motor supply',
      ),
      limit(
        'steps a second',
        i.stepHz / most,
        'fewer steps a second, a higher motor supply, or a motor of less inductance',
      ),
    ],
    'a phase current has to turn round within a step: t = 2 L I / V, as in application notes on stepper drives',
    ['A motor at rest keeps its current and its heat while it is enabled.'],
  )
}
