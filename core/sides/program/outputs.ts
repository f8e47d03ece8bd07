/** Rows of loads as the engine reads them (engine/loads.h): what follows from the kind. */
import { stepMs } from '../../design/outputs/opposed'
import { isHeld } from '../../design/outputs/traits'
import type { Output, OutputKind, OutputOf } from '../../design/schema'

/**
 * What the engine reads of an output. `flags`: bits 4, 8 and 16; `ms`: its times; `drive`,
 * `minimum`, `wide` as in loads.h.
 */
export interface EngineOutput {
  kind: number
  flags: number
  ms: readonly number[]
  drive?: number
  minimum?: number
  wide?: number
}

const bits = (...set: readonly boolean[]) =>
  set.reduce((flags, on, i) => flags | (Number(on) << (2 + i)), 0)

const DRIVES: Record<OutputOf<'opposed'>['drive'], number> = {
  relays: 0,
  bridge: 0,
  stepper: 1,
  coils: 2,
}

/** null: the engine does not know the kind. */
const ROWS: { [K in OutputKind]: (output: OutputOf<K>) => EngineOutput | null } = {
  switched: ({ timers, limits }) => ({
    kind: 0,
    flags: bits(timers !== null || limits !== null, limits?.tooSoon === 'refuse'),
    ms: [
      timers?.onDelayMs ?? 0,
      timers?.offDelayMs ?? 0,
      timers?.blinkMs ?? 0,
      limits?.minOnMs ?? 0,
      limits?.minOffMs ?? 0,
      limits?.longestOnMs ?? 0,
    ],
  }),
  pulsed: ({ lengthMs, again }) => ({ kind: 1, flags: bits(again === 'ignore'), ms: [lengthMs] }),
  held: ({ timeoutMs }) => ({ kind: 2, flags: 0, ms: [timeoutMs] }),
  opposed: output => ({
    kind: 3,
    flags: bits(output.enablePin !== null, output.sequence === 'full', output.atRest !== 'off'),
    ms: [output.deadTimeMs, output.runLimitMs, stepMs(output)],
    drive: DRIVES[output.drive],
    wide: output.stepHz,
  }),
  level: ({ rampMs, minimum, below }) => ({
    kind: 4,
    flags: bits(below === 'minimum'),
    ms: [rampMs],
    minimum,
  }),
  follower: ({ pulseMs, gapMs, positions, round }) => ({
    kind: 5,
    flags: bits(round),
    ms: [pulseMs, gapMs],
    wide: positions,
  }),
  choice: () => ({ kind: 6, flags: 0, ms: [] }),
}

/** The row of an output; null where the engine does not know its kind. */
export function engineOutput(output: Output): EngineOutput | null {
  const row = ROWS[output.kind] as (output: Output) => EngineOutput | null
  return row(output)
}

/** A switched output with timers or limits (loads.h, `TIMED`). */
export function isTimed({ kind, flags }: EngineOutput): boolean {
  return kind === 0 && (flags & 4) !== 0
}

/** A load of another board, of which this one only tells or believes; what it is there. */
export function mirrorOf(output: Output) {
  const drive = engineOutput(output)?.kind ?? 0
  return { kind: 7, flags: isHeld(output) ? 4 : 0, ms: [], drive, minimum: 0, wide: 0 }
}
