/** How long a battery lasts that sleeps most of the time. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface BatteryInputs {
  capacityAmpHours: number
  activeAmps: number
  activeSeconds: number
  /** Once in this many seconds it is active. */
  periodSeconds: number
  sleepAmps: number
  /** Part of the capacity that can be had at this load and temperature. */
  usable: number
  selfDischargePerMonth: number
  wantedDays: number
}
export const BATTERY_DEFAULTS = {
  usable: 0.8,
  selfDischargePerMonth: 0.02,
  wantedDays: 180,
} as const
const HOURS_PER_MONTH = (365.25 * 24) / 12

export const BATTERY_RANGES: Ranges<BatteryInputs> = {
  capacityAmpHours: range('Capacity', 'Ah', 0.005, 1000),
  activeAmps: range('Active current', 'A', 1e-6, 50),
  activeSeconds: range('Active time', 's', 0, 1e6),
  periodSeconds: range('Period', 's', 0.001, 1e8),
  sleepAmps: range('Sleep current', 'A', 0, 1),
  usable: range('Usable part', '', 0.1, 1),
  selfDischargePerMonth: range('Self-discharge', '', 0, 0.5),
  wantedDays: range('Wanted life', '', 0.01, 36_500),
}

/**
 * How long a battery lasts, days: charge balance over one period. Throws `BadInput` out of range.
 */
export function battery(given: BatteryInputs): Sum {
  const i = inRange(given, BATTERY_RANGES)
  const duty = Math.min(1, i.activeSeconds / i.periodSeconds)
  const average = i.activeAmps * duty + i.sleepAmps * (1 - duty)
  const leak = (i.capacityAmpHours * i.selfDischargePerMonth) / HOURS_PER_MONTH
  const days = (i.capacityAmpHours * i.usable) / (average + leak) / 24
  return sum(
    [
      figure('D', 'active part of the time', duty * 100, '%', 'active time / period'),
      figure('Ia', 'average current', average, 'A', 'active x D + sleep x (1 - D)'),
      figure(
        'Is',
        'self-discharge as a current',
        leak,
        'A',
        'capacity x part per month / hours of a month',
      ),
      figure('T', 'days', days, '', 'capacity x usable / (Ia + Is) / 24'),
    ],
    [limit('life', i.wantedDays / days, 'sleep longer, send less often, or take a larger battery')],
    'charge balance over one period; self-discharge as in cell data sheets',
    ['Lithium cells need their own protection and charger.'],
  )
}
