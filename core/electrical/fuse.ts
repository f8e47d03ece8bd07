/** A hint for the fuse of a low-voltage branch: above the load, below the wire. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

/** Rated currents of miniature fuse-links, A (IEC 60127, R10 series). */
export const FUSE_AMPS = [
  0.1, 0.125, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8,
  10,
] as const

export interface FuseInputs {
  loadAmps: number
  wireMaxAmps: number
  /** A fuse carries this part of its rating for good; 0.75 is customary. */ use: number
}
export const FUSE_DEFAULTS = { use: 0.75 } as const

export const FUSE_RANGES: Ranges<FuseInputs> = {
  loadAmps: range('Load current', 'A', 0.005, 7.5),
  wireMaxAmps: range('Wire limit', 'A', 0.1, 100),
  use: range('Used at most', '', 0.5, 1),
}

/** The usual fuse above a load and below its lead. Throws `BadInput` out of range. */
export function fuse(given: FuseInputs): Sum {
  const i = inRange(given, FUSE_RANGES)
  const rating = FUSE_AMPS.find(a => a * i.use >= i.loadAmps * (1 - 1e-9)) ?? Infinity
  return sum(
    [
      figure('Im', 'rating at least', i.loadAmps / i.use, 'A', 'load current / use'),
      figure('In', 'next fuse', rating, 'A', 'IEC 60127 at or above Im'),
    ],
    [
      limit(
        'fuse protects the wire',
        rating / i.wireMaxAmps,
        'a thicker wire, or the branch divided',
      ),
    ],
    'rated currents IEC 60127; a quarter held back, as fuse makers advise',
    [
      'A hint for extra-low voltage. Motors and LED drivers need a slow-acting fuse; mains fusing follows the local code.',
    ],
  )
}
