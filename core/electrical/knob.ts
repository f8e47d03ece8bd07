/**
 * A rotary encoder: how close its edges come when somebody spins it, against debounce and reading.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface KnobInputs {
  detentsPerTurn: number
  edgesPerDetent: number
  turnsPerSecond: number
  debounceSeconds: number
  pollSeconds: number
}
export const KNOB_DEFAULTS = { edgesPerDetent: 4, turnsPerSecond: 2, pollSeconds: 0.001 } as const
export const KNOB_RANGES: Ranges<KnobInputs> = {
  detentsPerTurn: range('Detents a turn', '', 1, 1000),
  edgesPerDetent: range('Edges a detent', '', 1, 4),
  turnsPerSecond: range('Turns a second', '', 0.1, 20),
  debounceSeconds: range('Debounce', 's', 0, 1),
  pollSeconds: range('Read every', 's', 1e-6, 1),
}

/** Edges of a knob against its debounce. Throws `BadInput` out of range. */
export function knob(given: KnobInputs): Sum {
  const i = inRange(given, KNOB_RANGES)
  const rate = i.detentsPerTurn * i.edgesPerDetent * i.turnsPerSecond
  const apart = 1 / rate
  return sum(
    [
      figure('fe', 'edges a second', rate, 'Hz', 'detents x edges x turns'),
      figure('te', 'time between edges', apart, 's', '1 / fe'),
    ],
    [
      limit(
        'debounce below the time between edges',
        i.debounceSeconds / apart,
        'no debounce on a knob: its state table ignores bounces by itself',
      ),
      limit(
        'read often enough',
        i.pollSeconds / apart,
        'pins that interrupt, or a knob of fewer detents',
      ),
    ],
    'quadrature by state table: four edges a period, each valid from one neighbour only',
  )
}
