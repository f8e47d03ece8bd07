/** A pull-up on a switch lead: current, levels, and how slow the edge becomes on a long lead. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface PullUpInputs {
  supplyVolts: number
  pullOhms: number
  /** Resistance of closed contact and lead. */
  closedOhms: number
  leadMeters: number
  faradsPerMeter: number
  leakageAmps: number
  /** Input levels as parts of the supply: 0.3 and 0.6 of it on common boards. */
  lowBelow: number
  highAbove: number
  /** Current that keeps the contact clean. */
  wettingAmps: number
}
export const PULL_UP_DEFAULTS = {
  closedOhms: 10,
  faradsPerMeter: 100e-12,
  leakageAmps: 1e-6,
  lowBelow: 0.3,
  highAbove: 0.6,
  wettingAmps: 1e-3,
} as const

export const PULL_UP_RANGES: Ranges<PullUpInputs> = {
  supplyVolts: range('Supply', 'V', 1, 30),
  pullOhms: range('Pull-up', 'Ω', 100, 1e7),
  closedOhms: range('Closed contact and lead', 'Ω', 0, 10_000),
  leadMeters: range('Lead', 'm', 0, 500),
  faradsPerMeter: range('Capacitance per metre', 'F', 1e-12, 1e-9),
  leakageAmps: range('Leakage', 'A', 0, 1e-3),
  lowBelow: range('Low level', '', 0.1, 0.5),
  highAbove: range('High level', '', 0.4, 0.9),
  wettingAmps: range('Wetting current', 'A', 0, 0.1),
}

/** Levels, current and speed of a contact with a pull-up. Throws `BadInput` out of range. */
export function pullUp(given: PullUpInputs): Sum {
  const i = inRange(given, PULL_UP_RANGES)
  const closed = i.supplyVolts / (i.pullOhms + i.closedOhms)
  const low = closed * i.closedOhms
  const high = i.supplyVolts - i.leakageAmps * i.pullOhms
  const farads = i.faradsPerMeter * i.leadMeters
  const rise = i.pullOhms * farads * -Math.log(1 - i.highAbove)
  return sum(
    [
      figure('Ic', 'current when closed', closed, 'A', 'supply / (R + contact)'),
      figure('Vl', 'level when closed', low, 'V', 'Ic x contact'),
      figure('Vh', 'level when open', high, 'V', 'supply - leakage x R'),
      figure('C', 'capacitance of the lead', farads, 'F', 'length x capacitance per metre'),
      figure('tr', 'rises to a high level within', rise, 's', 'R x C x -ln(1 - high level)'),
    ],
    [
      limit(
        'low level',
        low / (i.lowBelow * i.supplyVolts),
        'a larger pull-up, or a lead of less resistance',
      ),
      limit(
        'high level',
        (i.highAbove * i.supplyVolts) / Math.max(high, 1e-6),
        'a smaller pull-up',
      ),
      limit(
        'wetting current',
        i.wettingAmps / closed,
        'a smaller pull-up: on long leads 1 to 4.7 kΩ to the supply beside the built-in one',
      ),
    ],
    'RC charging and input levels, as in electronics textbooks and data sheets',
    [
      'Leads longer than a few metres catch noise: twist them with ground, add 100 nF at the pin, and debounce longer.',
    ],
  )
}
