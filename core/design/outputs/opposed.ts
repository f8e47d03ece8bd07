/** Two lines that are never energised together: forward and reverse. */
import type { Driver } from '../schema'
import { lineOf } from './facet'
import type { OutputFacet, OutputValues, PinLine } from './facet'
import type { OutputOf } from './schema'

const DIRECTIONS = ['stop', 'forward', 'reverse'] as const
const DRIVERS: Record<OutputOf<'opposed'>['drive'], readonly Driver['kind'][]> = {
  relays: ['relay-module', 'coil'],
  bridge: ['bridge'],
  stepper: ['stepper'],
}

export const opposedValues: OutputValues<OutputOf<'opposed'>> = {
  values: () => DIRECTIONS,
  full: 'forward',
  share: value => (value === 'stop' ? 0 : 1),
  eachKey: ['forward', 'stop', 'reverse'],
}

export const opposed: OutputFacet<OutputOf<'opposed'>> = {
  words: 'forward and reverse',
  lines: output => (output.drive === 'stepper' ? stepperLines(output) : directions(output)),
  forms: () => ['each'],
  asks: () => ['forward', 'reverse', 'stop'],
  relative: true,
  drivers: ({ drive }) => DRIVERS[drive],
  fresh: (old, reversePin) => ({
    kind: 'opposed',
    pin: old.pin,
    activeLevel: old.activeLevel,
    reversePin,
    enablePin: null,
    drive: 'relays',
    stepHz: 400,
    deadTimeMs: 500,
    runLimitMs: 20_000,
    forwardEnd: null,
    reverseEnd: null,
  }),
}

function directions(output: OutputOf<'opposed'>): PinLine[] {
  return [
    lineOf(output, 'pin', 'forward', output.pin),
    lineOf(output, 'reversePin', 'reverse', output.reversePin),
  ]
}

/** Step and direction are high when active, enable is low, whatever the output says. */
function stepperLines(output: OutputOf<'opposed'>): PinLine[] {
  const { pin, reversePin, enablePin } = output
  const enable = (at: number) =>
    lineOf(output, 'enablePin', 'enable', at, { as: 'output', activeLevel: 'low' })
  return [
    lineOf(output, 'pin', 'step', pin, { as: 'output', activeLevel: 'high' }),
    lineOf(output, 'reversePin', 'direction', reversePin, { as: 'output', activeLevel: 'high' }),
    ...(enablePin === null ? [] : [enable(enablePin)]),
  ]
}
