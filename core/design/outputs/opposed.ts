/** Two lines that are never energised together: forward and reverse. */
import type { Driver } from '../schema'
import { lineOf, NO_PIN, startOf } from './facet'
import type { OutputFacet, OutputValues, PinLine } from './facet'
import type { OutputOf } from './schema'

const DIRECTIONS = ['stop', 'forward', 'reverse'] as const
const DRIVERS: Record<OutputOf<'opposed'>['drive'], readonly Driver['kind'][]> = {
  relays: ['relay-module', 'coil'],
  bridge: ['bridge'],
  stepper: ['stepper'],
  coils: ['four-coils'],
}

export const opposedValues: OutputValues<OutputOf<'opposed'>> = {
  values: () => DIRECTIONS,
  full: 'forward',
  share: value => (value === 'stop' ? 0 : 1),
  eachKey: ['forward', 'stop', 'reverse'],
}

export const opposed: OutputFacet<OutputOf<'opposed'>> = {
  words: 'forward and reverse',
  lines: output => LINES[output.drive](output),
  forms: () => ['each'],
  asks: () => ['forward', 'reverse', 'stop'],
  relative: true,
  drivers: ({ drive }) => DRIVERS[drive],
  fresh: (old, reversePin) => ({
    kind: 'opposed',
    ...startOf(old),
    reversePin,
    enablePin: null,
    thirdPin: null,
    fourthPin: null,
    drive: 'relays',
    stepHz: 400,
    sequence: 'half',
    atRest: 'off',
    deadTimeMs: 500,
    runLimitMs: 20_000,
    forwardEnd: null,
    reverseEnd: null,
  }),
}

/** A step of coils lasts whole milliseconds, one at least. */
export function stepMs({ stepHz }: Pick<OutputOf<'opposed'>, 'stepHz'>): number {
  return Math.max(1, Math.round(1000 / stepHz))
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

/** Coils in the order in which they are energised by turns. */
function coilLines(output: OutputOf<'opposed'>): PinLine[] {
  const { pin, reversePin, thirdPin, fourthPin } = output
  return [
    lineOf(output, 'pin', 'coil 1', pin),
    lineOf(output, 'reversePin', 'coil 2', reversePin),
    lineOf(output, 'thirdPin', 'coil 3', thirdPin ?? NO_PIN),
    lineOf(output, 'fourthPin', 'coil 4', fourthPin ?? NO_PIN),
  ]
}

const LINES: Record<OutputOf<'opposed'>['drive'], (output: OutputOf<'opposed'>) => PinLine[]> = {
  relays: directions,
  bridge: directions,
  stepper: stepperLines,
  coils: coilLines,
}
