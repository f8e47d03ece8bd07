/** How long memory lasts that is written at every saved change. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface WearInputs {
  changesPerDay: number
  /** Places that take turns. */ slots: number
  enduranceWrites: number
  wantedYears: number
}
export const WEAR_DEFAULTS = { slots: 2, enduranceWrites: 100_000, wantedYears: 10 } as const

export const WEAR_RANGES: Ranges<WearInputs> = {
  changesPerDay: range('Changes a day', '', 0.001, 1e6),
  slots: range('Slots', '', 1, 10_000),
  enduranceWrites: range('Endurance', '', 1000, 1e9),
  wantedYears: range('Wanted life', '', 0.1, 100),
}

/** How long a memory lasts that is written at changes, years. Throws `BadInput` out of range. */
export function wear(given: WearInputs): Sum {
  const i = inRange(given, WEAR_RANGES)
  const years = (i.enduranceWrites * i.slots) / i.changesPerDay / 365.25
  return sum(
    [
      figure('N', 'writes in all slots', i.enduranceWrites * i.slots, '', 'endurance x slots'),
      figure('Y', 'years', years, '', 'N / changes a day / 365.25'),
      figure(
        'Dm',
        'changes a day for the wanted life',
        (i.enduranceWrites * i.slots) / (i.wantedYears * 365.25),
        '',
        'N / (years x 365.25)',
      ),
    ],
    [limit('wear', i.wantedYears / years, 'a longer save delay, more slots, or no saving')],
    'write endurance as in data sheets (100,000 a cell is common for EEPROM)',
  )
}
