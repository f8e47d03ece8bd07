/** Two-point calibration: a straight line through two readings whose true values are known. */
import { BadInput, figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface CalibrationInputs {
  raw1: number
  value1: number
  raw2: number
  value2: number
  bits: number
}
/** The two readings lie at least this part of the scale apart. */
const APART = 0.1

export const CALIBRATION_RANGES: Ranges<CalibrationInputs> = {
  raw1: range('First reading', '', 0, 16_777_215),
  value1: range('its value', '', -1e9, 1e9),
  raw2: range('Second reading', '', 0, 16_777_215),
  value2: range('its value', '', -1e9, 1e9),
  bits: range('Bits', '', 6, 24),
}

/** The value of a reading. */
export function calibrated(
  { raw1, value1, raw2, value2 }: Omit<CalibrationInputs, 'bits'>,
  raw: number,
): number {
  return value1 + ((raw - raw1) * (value2 - value1)) / (raw2 - raw1)
}

/** The straight line through two readings. Throws `BadInput` where they are equal. */
export function calibration(given: CalibrationInputs): Sum {
  const i = inRange(given, CALIBRATION_RANGES)
  if (i.raw1 === i.raw2)
    throw new BadInput('raw2', 'The two readings are equal: calibrate at two different values')
  const counts = 2 ** i.bits
  const slope = (i.value2 - i.value1) / (i.raw2 - i.raw1)
  return sum(
    [
      figure('m', 'value of one step', slope, '', '(v2 - v1) / (r2 - r1)'),
      figure('b', 'value at reading 0', calibrated(i, 0), '', 'v1 - m x r1'),
      figure('vm', 'value at full scale', calibrated(i, counts - 1), '', 'b + m x (2^bits - 1)'),
    ],
    [
      limit(
        'readings within the scale',
        Math.max(i.raw1, i.raw2) / (counts - 1),
        'a reading is at most 2^bits - 1',
      ),
      limit(
        'readings far enough apart',
        APART / (Math.abs(i.raw2 - i.raw1) / counts),
        'calibrate at values further apart: an error of one reading is stretched by what lies outside them',
      ),
    ],
    'straight line through two points',
  )
}
