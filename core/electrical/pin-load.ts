/** What the pins of a board give all together, and the one that gives most. */
import { BadInput, figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface PinLoadInputs {
  pinMaxAmps: number
  totalMaxAmps: number
}
export interface PinConsumer {
  what: string
  amps: number
}
export const PIN_LOAD_RANGES: Ranges<PinLoadInputs> = {
  pinMaxAmps: range('Pin limit', 'A', 1e-4, 1),
  totalMaxAmps: range('Limit of all pins', 'A', 1e-3, 5),
}

/** All pins together against what the chip takes. Throws `BadInput` with the consumer. */
export function pinLoad(given: PinLoadInputs, consumers: readonly PinConsumer[]): Sum {
  const i = inRange(given, PIN_LOAD_RANGES)
  consumers.forEach((c, n) => {
    if (!(c.amps >= 0 && c.amps <= 10))
      throw new BadInput(`consumers/${n}/amps`, `${c.what}: a current between 0 and 10 A is needed`)
  })
  const total = consumers.reduce((amps, c) => amps + c.amps, 0)
  const most = consumers.reduce((max, c) => Math.max(max, c.amps), 0)
  return sum(
    [
      figure('I', 'all pins together', total, 'A', 'sum of the currents'),
      figure('Im', 'the most of one pin', most, 'A', 'largest of them'),
    ],
    [
      limit('one pin', most / i.pinMaxAmps, 'a transistor or a driver chip between pin and load'),
      limit(
        'all pins together',
        total / i.totalMaxAmps,
        'a driver chip fed by the supply, or relay modules with inputs of less current',
      ),
    ],
    'sum of currents against the absolute ratings of the data sheet class, every output on at once',
  )
}
