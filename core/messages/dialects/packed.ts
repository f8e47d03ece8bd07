/** Structures hold numbers: loads count from 1, values from 0, scenes are values of load 0. */
import { KINDS, packedCode } from '../../design/dialects/packed'
import type { DialectOf, Load } from '../../design/schema'
import { spokenValues, valuesOf } from '../../design/values'
import type { CodeMaker, Making, Speech } from './facet'
import { hereInWords, spoken } from './text'

export const packedSpeech: Speech = {
  ...spoken,
  reading: () => '',
  value: () => null,
  counter: () => '',
}

/** Numbers of relative wishes in structures, above those of values. */
const WISH_NUMBERS: Record<string, number> = {
  toggle: 101,
  up: 102,
  down: 103,
  next: 104,
  after: 105,
  for: 106,
  blink: 107,
}

export const packedMaker: CodeMaker<DialectOf<'packed'>> = {
  schools: ['numbers'],
  ask: dialect => packedCode(dialect, 0, 0, KINDS.ask),
  hello: '',
  values: (dialect, load, making) =>
    Object.fromEntries(
      spokenValues(load.output).map(value => [value, made(dialect, load, value, making)]),
    ),
  wish: made,
  scene: (dialect, _, at) => packedCode(dialect, 0, 1 + at),
  here: hereInWords,
  codesVary: true,
}

function made(dialect: DialectOf<'packed'>, load: Load, value: string, { design }: Making): string {
  return packedCode(
    dialect,
    design.loads.findIndex(l => l.id === load.id) + 1,
    // The place of a number holds 0.
    WISH_NUMBERS[value] ?? Math.max(0, valuesOf(load.output).indexOf(value)),
  )
}
