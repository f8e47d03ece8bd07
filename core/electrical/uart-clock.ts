/** How far the speed of a serial port is off: the clock divided by what the port can count. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface UartClockInputs {
  clockHz: number
  /**
   * Steps in which the divisor can be set: 8 on 8-bit boards at double speed, 1/16 where fractions
   * are counted.
   */
  divisorStep: number
  baud: number
}
/**
 * Both sides together may be off by 5 % of a 10-bit character; half of it is kept for the other
 * side.
 */
const MAX_ERROR = 0.02

export const UART_CLOCK_RANGES: Ranges<UartClockInputs> = {
  clockHz: range('Clock', 'Hz', 1e4, 1e9),
  divisorStep: range('Step of the divisor', '', 1 / 256, 64),
  baud: range('Speed, baud', '', 50, 4_000_000),
}

/** How far a serial clock is off, %. Throws `BadInput` out of range. */
export function uartClock(given: UartClockInputs): Sum {
  const i = inRange(given, UART_CLOCK_RANGES)
  const divisor = Math.max(1, Math.round(i.clockHz / i.baud / i.divisorStep)) * i.divisorStep
  const real = i.clockHz / divisor
  const error = real / i.baud - 1
  return sum(
    [
      figure('D', 'divisor', divisor, '', 'clock / baud, in whole steps'),
      figure('Br', 'real speed', real, 'Hz', 'clock / D'),
      figure('e', 'error', error * 100, '%', '(Br / baud - 1) x 100'),
      figure('tc', 'one character of 10 bits', 10 / real, 's', '10 / Br'),
    ],
    [
      limit(
        'error of the speed',
        Math.abs(error) / MAX_ERROR,
        'take another speed on both sides: 9600, 19200 or 38400 divide a clock of 16 MHz well',
      ),
    ],
    'baud rate generator as in data sheets of 8-bit controllers; receivers sample the middle of each bit, which allows about ±2 % a side',
  )
}
