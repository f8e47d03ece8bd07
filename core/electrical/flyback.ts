/**
 * What a coil does when it is switched off: energy, voltage at the switch, and how long it holds
 * on.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface FlybackInputs {
  supplyVolts: number
  coilOhms: number
  coilHenries: number
  /** Forward voltage of the diode, or diode and Zener together. */
  clampVolts: number
  diodeMaxAmps: number
  switchMaxVolts: number
}

export const FLYBACK_RANGES: Ranges<FlybackInputs> = {
  supplyVolts: range('Coil supply', 'V', 1, 60),
  coilOhms: range('Coil resistance', 'Ω', 0.5, 100_000),
  coilHenries: range('Coil inductance', 'H', 1e-6, 100),
  clampVolts: range('Clamp voltage', 'V', 0.2, 200),
  diodeMaxAmps: range('Diode limit', 'A', 1e-3, 100),
  switchMaxVolts: range('Switch limit', 'V', 1, 1000),
}

/** i(t) = (I + Vc/R) exp(-tR/L) - Vc/R reaches zero at t = L/R ln(1 + I R / Vc). */
export function flyback(given: FlybackInputs): Sum {
  const i = inRange(given, FLYBACK_RANGES)
  const current = i.supplyVolts / i.coilOhms
  const release = (i.coilHenries / i.coilOhms) * Math.log(1 + (current * i.coilOhms) / i.clampVolts)
  return sum(
    [
      figure('I', 'coil current', current, 'A', 'supply / coil resistance'),
      figure('E', 'energy in the coil', (i.coilHenries * current ** 2) / 2, 'J', 'L x I² / 2'),
      figure(
        'Vs',
        'voltage at the open switch',
        i.supplyVolts + i.clampVolts,
        'V',
        'supply + clamp',
      ),
      figure('tr', 'current ends after', release, 's', 'L / R x ln(1 + I x R / clamp)'),
    ],
    [
      limit('diode current', current / i.diodeMaxAmps, 'take a diode for more current'),
      limit(
        'voltage at the switch',
        (i.supplyVolts + i.clampVolts) / i.switchMaxVolts,
        'clamp lower, or take a switch for more voltage',
      ),
    ],
    'first-order RL circuit with a constant-voltage clamp, as in electronics textbooks',
    ['A coil without a flyback path destroys its transistor at the first release.'],
  )
}
