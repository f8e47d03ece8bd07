/** The four coils of a stepper behind an array of switches: current, speed, travel. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface CoilsInputs {
  coilVolts: number
  coilOhms: number
  lossVolts: number
  maxAmps: number
  /** A step as it is made, full or half, s. */
  stepSeconds: number
  /** Full steps a turn, gearing included, and steps made for each of them: 1 or 2. */
  stepsPerTurn: number
  stepsEach: number
  /** The longest run, s; 0 = no limit. */
  runSeconds: number
}

export const COILS_RANGES: Ranges<CoilsInputs> = {
  coilVolts: range('Coil voltage', 'V', 0.5, 60),
  coilOhms: range('Coil resistance', 'Ω', 0.1, 10_000),
  lossVolts: range('Lost in a switch', 'V', 0, 5),
  maxAmps: range('Switch limit', 'A', 0.01, 50),
  stepSeconds: range('Step', 's', 1e-3, 1),
  stepsPerTurn: range('Full steps a turn', '', 1, 100_000),
  stepsEach: range('Steps for a full step', '', 1, 2),
  runSeconds: range('Longest run', 's', 0, 600),
}

/** Coils that are energised by turns. Throws `BadInput` out of range. */
export function coils(given: CoilsInputs): Sum {
  const i = inRange(given, COILS_RANGES)
  const amps = Math.max(0, i.coilVolts - i.lossVolts) / i.coilOhms
  const turns = 1 / (i.stepSeconds * i.stepsPerTurn * i.stepsEach)
  return sum(
    [
      figure('Ic', 'current of a coil', amps, 'A', '(coil voltage - loss) / coil resistance'),
      figure('I', 'current of two coils at once', 2 * amps, 'A', '2 x Ic'),
      figure('f', 'steps a second', 1 / i.stepSeconds, 'Hz', '1 / step, a step in whole ms'),
      figure('n', 'turns a minute', 60 * turns, '', '60 / (step x steps a turn)'),
      figure('s', 'turns in the longest run', turns * i.runSeconds, '', 'longest run x n / 60'),
      figure('P', 'heat in a switch', amps * i.lossVolts, 'W', 'Ic x loss'),
    ],
    [
      limit('switch current', amps / i.maxAmps, 'take switches for more current'),
      limit(
        'voltage left for the coil',
        (i.coilVolts * 0.7) / Math.max(1e-9, i.coilVolts - i.lossVolts),
        'switches that lose less, or a higher supply',
      ),
    ],
    "Ohm's law; steps a turn as the motor states them",
    [
      'Small geared motors stop following somewhere between 400 and 1000 full steps a second: try yours under load.',
      'Where it stands is counted, not measured: an end contact tells the truth.',
    ],
  )
}
