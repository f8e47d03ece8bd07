/**
 * Outputs as the search without times sees them: whether a time is there counts, its length does
 * not; ramps and clicks happen at once, for what is told is the target.
 */
import type { Output, OutputKind, OutputOf } from '../design/schema'
import { valuesOf } from '../design/values'

const once = (ms: number) => (ms ? 1 : 0)

const TIMELESS: { [K in OutputKind]: (output: OutputOf<K>) => Output } = {
  // Their lengths do not matter, and each has to be armed at the same moment wherever it is armed.
  // A longest time has to lie above a least one.
  switched: output => ({
    ...output,
    limits: output.limits && {
      ...output.limits,
      minOnMs: once(output.limits.minOnMs),
      minOffMs: once(output.limits.minOffMs),
      longestOnMs: output.limits.longestOnMs ? 2 : 0,
    },
    saveDelayMs: once(output.saveDelayMs),
    timers: output.timers && { onDelayMs: 10, offDelayMs: 10, blinkMs: 50 },
  }),
  pulsed: output => output,
  held: output => output,
  // By turns its coils say nothing but which way it runs.
  opposed: output => ({
    ...output,
    drive: output.drive === 'coils' ? 'relays' : output.drive,
    deadTimeMs: once(output.deadTimeMs),
    runLimitMs: once(output.runLimitMs),
  }),
  // The named levels stand for the numbers between them (`assumptions.ts`).
  level: output => ({ ...output, step: null, saveDelayMs: once(output.saveDelayMs), rampMs: 0 }),
  choice: output => ({ ...output, saveDelayMs: once(output.saveDelayMs) }),
  // Its clicks are told to nobody: for the search a knob is a level of so many steps.
  follower: output => ({
    kind: 'level',
    pin: output.pin,
    activeLevel: output.activeLevel,
    drive: 'pwm',
    powerUp: 'off',
    saveDelayMs: 0,
    stops: valuesOf(output).map(Number),
    step: null,
    rampMs: 0,
    minimum: 0,
    below: 'off',
  }),
}

/** The output without the lengths of its times. */
export function timelessOutput(output: Output): Output {
  return (TIMELESS[output.kind] as (output: Output) => Output)(output)
}
