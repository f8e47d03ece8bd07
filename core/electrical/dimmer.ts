/** A mains dimmer as a closed box: what it dims has to be neither too much nor too little. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface DimmerInputs {
  volts: number
  loadAmps: number
  maxAmps: number
  minAmps: number
}
export const DIMMER_RANGES: Ranges<DimmerInputs> = {
  volts: range('Voltage', 'V', 5, 400),
  loadAmps: range('Load current', 'A', 1e-3, 50),
  maxAmps: range('Dimmer, most', 'A', 0.01, 50),
  minAmps: range('Dimmer, least', 'A', 0, 10),
}

/** A load against the least and most of its dimmer. Throws `BadInput` out of range. */
export function dimmer(given: DimmerInputs): Sum {
  const i = inRange(given, DIMMER_RANGES)
  return sum(
    [
      figure('P', 'power of the load', i.volts * i.loadAmps, 'W', 'voltage x current'),
      figure(
        'Pm',
        'least that the dimmer wants',
        i.volts * i.minAmps,
        'W',
        'voltage x least current',
      ),
    ],
    [
      limit('load current', i.loadAmps / i.maxAmps, 'a larger dimmer'),
      limit(
        'least load',
        i.minAmps / i.loadAmps,
        'more lamps, or a dimmer for small loads: below that they flicker',
      ),
    ],
    'rated and least load as in dimmer data sheets',
    [
      'Only lamps and drivers marked as dimmable; motors and transformers not at all, unless the dimmer says so.',
    ],
  )
}
