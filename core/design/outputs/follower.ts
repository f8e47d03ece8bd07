/** Clicks of a knob that is imitated: a device with positions of its own follows. */
import { lineOf, startOf } from './facet'
import type { OutputFacet, OutputValues } from './facet'
import type { OutputOf } from './schema'
import { stepped } from './level'

export const followerValues: OutputValues<OutputOf<'follower'>> = {
  values: ({ positions, stops }) =>
    (stops ?? Array.from({ length: positions }, (_, i) => i)).map(String),
  numbers: ({ positions }) => ({ high: positions - 1, step: 1 }),
  share: (value, { positions }) => Number(value) / (positions - 1),
  valueWords: value => `position ${value}`,
}

export const follower: OutputFacet<OutputOf<'follower'>> = {
  words: 'a knob that is imitated',
  lines: output => [
    lineOf(output, 'pin', 'clicks up', output.pin),
    lineOf(output, 'reversePin', 'clicks down', output.reversePin),
  ],
  forms: () => ['each', 'stepper', 'fader', 'number'],
  asks: (output, control) => stepped(followerValues.values(output), control),
  relative: true,
  drivers: () => ['opto', 'relay-module'],
  fresh: (old, reversePin) => ({
    kind: 'follower',
    ...startOf(old),
    activeLevel: 'high',
    reversePin,
    positions: 11,
    stops: null,
    pulseMs: 40,
    gapMs: 60,
    round: false,
  }),
}
