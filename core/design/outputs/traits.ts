/**
 * What can be asked of an output without knowing its kind. Whoever wants to know more than this
 * adds a facet.
 */
import type { Output, OutputOf } from './schema'

/** On only while somebody holds it. */
export function isHeld(output: Output | undefined): output is OutputOf<'held'> {
  return output !== undefined && 'timeoutMs' in output
}

/** On for a set time by a trigger. */
export function isPulse(output: Output): output is OutputOf<'pulsed'> {
  return 'lengthMs' in output
}

/** It ends by itself, and never stays on. */
export function endsItself(output: Output): output is OutputOf<'pulsed' | 'held'> {
  return isPulse(output) || isHeld(output)
}

/** Two directions that exclude each other. */
export function isOpposed(output: Output): output is OutputOf<'opposed'> {
  return 'deadTimeMs' in output
}

/** Drives a pin; the others are values that pages show. */
export function isDriven(output: Output): output is Exclude<Output, OutputOf<'choice'>> {
  return 'pin' in output
}

/** A choice that pages show. */
export function isChoice(output: Output | undefined): output is OutputOf<'choice'> {
  return output !== undefined && 'choices' in output
}

/** The coils of a stepper, energised by turns. */
export function hasCoils(output: Output | undefined): boolean {
  return output !== undefined && isOpposed(output) && output.drive === 'coils'
}

/** The level at which it is on; what drives nothing has none, and counts as high. */
export function activeLevelOf(output: Output): 'low' | 'high' {
  return isDriven(output) ? output.activeLevel : 'high'
}

/** Two lines, one for each direction, which are never on together. */
export function linesExclude(output: Output): output is OutputOf<'opposed'> {
  return isOpposed(output) && (output.drive === 'relays' || output.drive === 'bridge')
}

/** Driven by steps, not by two lines. */
export function isStepper(output: Output | undefined): output is OutputOf<'opposed'> {
  return output !== undefined && isOpposed(output) && output.drive === 'stepper'
}

/** Dimmed in per cent. */
export function isLevel(output: Output | undefined): output is OutputOf<'level'> {
  return output !== undefined && 'rampMs' in output
}

/** A key of a remote that is held down goes on acting on it. */
export function actsAgain(output: Output | undefined): boolean {
  return isHeld(output) || isLevel(output)
}

/** Another device follows it, with a position of its own. */
export function isFollower(output: Output): output is OutputOf<'follower'> {
  return 'positions' in output
}

/** On or off, and it stays so. */
export function isSwitched(output: Output): output is OutputOf<'switched'> {
  return 'timers' in output
}

/** Its timers; null where it has none. */
export function timersOf(output: Output): OutputOf<'switched'>['timers'] {
  return isSwitched(output) ? output.timers : null
}

/** How often and how long it may be on; null = no limits. */
export function limitsOf(output: Output): OutputOf<'switched'>['limits'] {
  return isSwitched(output) ? output.limits : null
}

/** Its end contacts: of forward, of reverse; null where there is none. */
export function endsOf(output: Output): readonly (string | null)[] {
  return isOpposed(output) ? [output.forwardEnd, output.reverseEnd] : []
}
