/** A level in per cent, dimmed by the pin or by a closed box. */
import type { Driver } from '../schema'
import { lineOf, rememberedOf, startOf } from './facet'
import type { OutputFacet, OutputValues } from './facet'
import type { OutputOf } from './schema'

const DRIVERS: Record<OutputOf<'level'>['drive'], readonly Driver['kind'][]> = {
  pwm: ['mosfet'],
  dimmer: ['dimmer'],
}

export const levelValues: OutputValues<OutputOf<'level'>> = {
  values: ({ stops }) => stops.map(String),
  numbers: ({ stops, step }) => ({ high: stops.at(-1) as number, step }),
  share: (value, { stops }) => Number(value) / (stops.at(-1) as number),
  valueWords: value => `${value} %`,
}

export const level: OutputFacet<OutputOf<'level'>> = {
  words: 'a level',
  lines: output => [
    lineOf(output, 'pin', '', output.pin, { as: 'pwm', activeLevel: output.activeLevel }),
  ],
  forms: () => ['each', 'stepper', 'fader', 'number'],
  asks: (output, control) => stepped(levelValues.values(output), control),
  relative: true,
  drivers: ({ drive }) => DRIVERS[drive],
  fresh: old => ({
    kind: 'level',
    ...startOf(old),
    activeLevel: 'high',
    ...rememberedOf(old),
    drive: 'pwm',
    stops: [0, 25, 50, 75, 100],
    step: null,
    rampMs: 10,
    minimum: 0,
    below: 'off',
  }),
}

/** What a hand control asks of something with many values. */
export function stepped(values: readonly string[], control: 'push' | 'latching'): string[] {
  return control === 'push' ? ['next', 'up', 'down', ...values] : ['toggle', ...values]
}
