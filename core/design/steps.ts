/** Several steps asked for at once: "up:3", as a knob does that is turned by three detents. */
import type { Output } from './schema'
import { asked } from './values'

/** The steps that are asked for: "up", "down:3"; null where it is something else. */
export function stepsIn(asks: string): [step: 'up' | 'down' | null, times: number] {
  const [, step = '', times = '1'] = /^(up|down)(?::(\d{1,4}))?$/.exec(asks) ?? []
  return step === 'up' || step === 'down' ? [step, Number(times)] : [null, 0]
}

/** The value asked for, as `asked`, or by so many steps. */
export function askedBySteps(output: Output, current: string, asks: string): string {
  const [step, times] = stepsIn(asks)
  if (step === null) return asked(output, current, asks)
  let value = current
  for (let n = 0; n < times; n++) value = asked(output, value, step)
  return value
}

/** What asks for something from the value there is. */
const RELATIVE: ReadonlySet<string> = new Set(['toggle', 'up', 'down', 'next'])

/** Under which code a wish stands that goes on from the value there is; null for any other. */
export function relativeIn(asks: string): string | null {
  return RELATIVE.has(asks) ? asks : stepsIn(asks)[0]
}
