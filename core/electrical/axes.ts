/** A two-axis input that is mounted at an angle: its axes turned back. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface AxesInputs {
  degrees: number
  x: number
  y: number
}
export const AXES_RANGES: Ranges<AxesInputs> = {
  degrees: range('Mounted at, degrees', '', -180, 180),
  x: range('First axis', '', -1e6, 1e6),
  y: range('Second axis', '', -1e6, 1e6),
}

/** The reading as it would be if the input stood straight; positive angles turn anticlockwise. */
export function turnedBack({ degrees, x, y }: AxesInputs): { x: number; y: number } {
  const angle = (degrees * Math.PI) / 180
  return {
    x: x * Math.cos(angle) + y * Math.sin(angle),
    y: y * Math.cos(angle) - x * Math.sin(angle),
  }
}

/** A stick that is mounted askew, turned back. Throws `BadInput` out of range. */
export function axes(given: AxesInputs): Sum {
  const i = inRange(given, AXES_RANGES)
  const straight = turnedBack(i)
  return sum(
    [
      figure('xs', 'first axis, straight', straight.x, '', 'x cos a + y sin a'),
      figure('ys', 'second axis, straight', straight.y, '', 'y cos a - x sin a'),
      figure(
        'k',
        'crosses over if left as it is',
        Math.abs(Math.sin((i.degrees * Math.PI) / 180)) * 100,
        '%',
        '|sin a| x 100',
      ),
    ],
    [limit('angle known', 0, 'measure the angle at the mount')],
    'rotation of axes, as in analytic geometry',
  )
}
