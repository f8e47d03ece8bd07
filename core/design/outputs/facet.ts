/** What the design knows of a kind of output: a row each, joined in `rows.ts` and `values.ts`. */
import type { PinUse } from '../../boards/hazards'
import type { Driver, PanelKey } from '../schema'
import type { Output, OutputOf } from './schema'

/** What its values are; a page of a panel carries this. */
export interface OutputValues<O extends Output> {
  /** In rising order, rest first. */
  values(output: O): readonly string[]
  /** What "on" means to a switch that has no value of its own; left out: the last value. */
  full?: string
  /** A value in words, where its id is none. */
  valueWords?(value: string, output: O): string | undefined
  /** How much of a ribbon is inked, 0 to 1; left out: the values go up in even steps. */
  share?(value: string, output: O): number
  /** The numbers that can be asked for, where its values are numbers. */
  numbers?(output: O): Numbers
  /** What keys for each value ask for, where that is not all of them as they rise. */
  eachKey?: readonly string[]
}

/** From 0 to `high`; beside the named values in steps of `step`, null = none but those. */
export interface Numbers {
  high: number
  step: number | null
}

export interface PinLine {
  /** Where its pin stands in the output. */
  key: 'pin' | 'reversePin' | 'enablePin' | 'thirdPin' | 'fourthPin'
  /** "" for the only line of a load. */
  name: string
  use: PinUse
  pin: number
}

export interface OutputFacet<O extends Output> {
  /** What its load is: "switched on and off". */
  words: string
  /** The pins that it drives, in a fixed order: effects and sketches count by it. */
  lines(output: O): PinLine[]
  /** Forms of panel keys that fit, the first by default. */
  forms(output: O): readonly PanelKey['form'][]
  /** What a hand control may ask for; the first by default. */
  asks(output: O, control: 'push' | 'latching'): readonly string[]
  /** A code may ask for what follows from where it stands: the other value, the next. */
  relative: boolean
  /** The drivers that fit, the usual one first. */
  drivers(output: O): readonly Driver['kind'][]
  /**
   * A new one with what can be kept of an old one; `reversePin` is a free pin for a second line.
   */
  fresh(old: Output, reversePin: number): O
}

/** A line of an output; without a use it switches at the output's active level. */
export function lineOf(
  output: Pick<OutputOf<'switched'>, 'activeLevel'>,
  key: PinLine['key'],
  name: string,
  pin: number,
  use: PinUse = { as: 'output', activeLevel: output.activeLevel },
): PinLine {
  return { key, name, use, pin }
}

/** A line that no pin was given yet. */
export const NO_PIN = -1

/** Pin and level of an old output; one without a pin has to be given one. */
export function startOf(old: Output): Pick<OutputOf<'switched'>, 'pin' | 'activeLevel'> {
  return 'pin' in old
    ? { pin: old.pin, activeLevel: old.activeLevel }
    : { pin: 0, activeLevel: 'low' }
}

/** What is kept over a power cut, as an old output had it. */
export function rememberedOf(old: Output): Pick<OutputOf<'switched'>, 'powerUp' | 'saveDelayMs'> {
  return {
    powerUp: 'powerUp' in old ? old.powerUp : 'off',
    saveDelayMs: 'saveDelayMs' in old ? old.saveDelayMs : 2000,
  }
}

export const ON_OFF = ['off', 'on'] as const
/** Drivers that switch something on and off. */
export const SWITCHES: readonly Driver['kind'][] = ['relay-module', 'coil', 'mosfet']
