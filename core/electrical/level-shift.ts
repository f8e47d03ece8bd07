/**
 * A serial wire between a board of higher and one of lower voltage: what each side gets, and how
 * fast the edges are.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface LevelShiftInputs {
  highVolts: number
  lowVolts: number
  /**
   * Divider from the higher to the lower side; 0 Ω upper and a large lower one for a wire without.
   */
  upperOhms: number
  lowerOhms: number
  /** What an input of the lower side takes at most. */
  lowMaxVolts: number
  /** Input levels as parts of the supply of the side that hears. */
  lowHighAbove: number
  highHighAbove: number
  farads: number
  baud: number
}
export const LEVEL_SHIFT_DEFAULTS = {
  upperOhms: 1000,
  lowerOhms: 2000,
  lowHighAbove: 0.75,
  highHighAbove: 0.6,
  farads: 100e-12,
} as const

export const LEVEL_SHIFT_RANGES: Ranges<LevelShiftInputs> = {
  highVolts: range('Higher side', 'V', 1, 30),
  lowVolts: range('Lower side', 'V', 1, 30),
  upperOhms: range('Upper resistor', 'Ω', 0, 1e6),
  lowerOhms: range('Lower resistor', 'Ω', 10, 1e8),
  lowMaxVolts: range('Limit of the lower side', 'V', 1, 40),
  lowHighAbove: range('High level, lower side', '', 0.3, 0.95),
  highHighAbove: range('High level, higher side', '', 0.3, 0.95),
  farads: range('Capacitance of wire and pin', 'F', 0, 1e-6),
  baud: range('Speed, baud', '', 50, 4_000_000),
}

/** A wire between two voltages, and its edges. Throws `BadInput` out of range. */
export function levelShift(given: LevelShiftInputs): Sum {
  const i = inRange(given, LEVEL_SHIFT_RANGES)
  const down = (i.highVolts * i.lowerOhms) / (i.upperOhms + i.lowerOhms)
  const source = (i.upperOhms * i.lowerOhms) / (i.upperOhms + i.lowerOhms)
  const edge = 2.2 * source * i.farads
  return sum(
    [
      figure('Vd', 'reaches the lower side', down, 'V', 'higher x R2 / (R1 + R2)'),
      figure('Vu', 'reaches the higher side', i.lowVolts, 'V', 'the lower side drives it as it is'),
      figure('te', 'edge', edge, 's', '2.2 x (R1 || R2) x C'),
      figure(
        'I',
        'current while high',
        i.highVolts / (i.upperOhms + i.lowerOhms),
        'A',
        'higher / (R1 + R2)',
      ),
    ],
    [
      limit(
        'lower side, highest voltage',
        down / i.lowMaxVolts,
        'a divider of 1 kΩ and 2 kΩ, or a level shifter',
      ),
      limit(
        'lower side, high level',
        (i.lowHighAbove * i.lowVolts) / down,
        'a divider that takes less away',
      ),
      limit(
        'higher side, high level',
        (i.highHighAbove * i.highVolts) / i.lowVolts,
        'a level shifter that lifts this direction too',
      ),
      limit(
        'edge, a tenth of a bit',
        (edge * i.baud) / 0.1,
        'smaller resistors, a shorter wire, or a lower speed',
      ),
    ],
    'voltage divider and RC edge (10 to 90 %), as in electronics textbooks; input levels as parts of the supply, as in data sheets',
  )
}
