/** A solenoid's duty: how long and how often it may be energised. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface SolenoidInputs {
  onSeconds: number
  periodSeconds: number
  /** Relative duty (ED) of the data sheet, 0 to 1. */ ratedDuty: number
  maxOnSeconds: number
  volts: number
  ohms: number
}

export const SOLENOID_RANGES: Ranges<SolenoidInputs> = {
  onSeconds: range('On time', 's', 0.001, 1e6),
  periodSeconds: range('Period', 's', 0.001, 1e7),
  ratedDuty: range('Rated duty', '', 0.01, 1),
  maxOnSeconds: range('Longest on time', 's', 0.01, 1e7),
  volts: range('Voltage', 'V', 1, 60),
  ohms: range('Resistance', 'Ω', 0.1, 10_000),
}

/** Duty of a solenoid. Throws `BadInput` out of range. */
export function solenoid(given: SolenoidInputs): Sum {
  const i = inRange(given, SOLENOID_RANGES)
  const duty = i.onSeconds / i.periodSeconds
  const watts = i.volts ** 2 / i.ohms
  return sum(
    [
      figure('D', 'duty', duty * 100, '%', 'on time / period'),
      figure('P', 'power while on', watts, 'W', 'V² / R'),
      figure('Pa', 'average power', watts * Math.min(1, duty), 'W', 'P x D'),
      figure(
        'Tp',
        'shortest period for this on time',
        i.onSeconds / i.ratedDuty,
        's',
        'on time / rated duty',
      ),
    ],
    [
      limit(
        'duty',
        duty / i.ratedDuty,
        'a shorter pulse, a longer pause, or a solenoid for 100 % duty',
      ),
      limit('on time', i.onSeconds / i.maxOnSeconds, 'a shorter pulse'),
    ],
    'relative duty (ED) as in solenoid data sheets (DIN VDE 0580)',
    ['A strike or valve must be safe when its power fails: nobody may be locked in.'],
  )
}
