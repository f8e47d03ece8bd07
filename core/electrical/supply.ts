/** A supply against everything it feeds. */
import { figure, inRange, limit, range, sum, BadInput, type Ranges, type Sum } from './sum'

export interface Consumer {
  what: string
  amps: number
  count: number
  volts: number
}
export interface SupplyInputs {
  supplyVolts: number
  supplyAmps: number
  /** Part of the rating used at most; 0.8 leaves a fifth. */ use: number
}
export const SUPPLY_DEFAULTS = { use: 0.8 } as const
/** Ratings of common plug and rail supplies, A. */
export const SUPPLY_AMPS = [0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6.5, 8, 10, 15, 20] as const

export const SUPPLY_RANGES: Ranges<SupplyInputs> = {
  supplyVolts: range('Supply', 'V', 1, 60),
  supplyAmps: range('Supply rating', 'A', 0.05, 100),
  use: range('Used at most', '', 0.3, 1),
}

/** A supply against all that it feeds. Throws `BadInput` with the consumer. */
export function supply(given: SupplyInputs, consumers: readonly Consumer[]): Sum {
  const i = inRange(given, SUPPLY_RANGES)
  consumers.forEach((c, n) => {
    if (!(c.amps >= 0 && c.amps <= 100))
      throw new BadInput(
        `consumers/${n}/amps`,
        `${c.what}: a current between 0 and 100 A is needed`,
      )
    if (!Number.isInteger(c.count) || c.count < 0)
      throw new BadInput(`consumers/${n}/count`, `${c.what}: a whole number is needed`)
  })
  const total = consumers.reduce((amps, c) => amps + c.amps * c.count, 0)
  const next = SUPPLY_AMPS.find(a => a * i.use >= total)
  return sum(
    [
      figure('I', 'all together', total, 'A', 'sum of current x count'),
      figure('P', 'power', total * i.supplyVolts, 'W', 'I x supply'),
      figure(
        'In',
        'smallest common rating that does',
        next ?? Infinity,
        'A',
        'next of 0.5 1 1.5 2 2.5 3 4 5 6.5 8 10 15 20 A at or above I / use',
      ),
    ],
    [
      limit(
        'supply current',
        total / (i.supplyAmps * i.use),
        next ? `take a supply of ${next} A` : 'divide the load between supplies',
      ),
    ],
    'sum of currents with a margin of a fifth, a rule of the trade',
  )
}
