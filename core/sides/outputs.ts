/** What the program for the 8-bit board knows of a kind of output: a row each. */
import type { Output, OutputKind, OutputOf } from '../design/schema'

/** Figures of a row of its table of loads, as the program reads them by kind. */
export interface Figures {
  a: number
  b?: number
  c?: number
  flag?: boolean
}

interface InProgram<O extends Output> {
  /** null: the program does not know the kind. */
  figures(output: O): Figures | null
  /** What of an output it does not do; "" where it does all. `name`: of the load. */
  lacks(output: O, name: string): string
}

const nothing = () => ''

const ROWS: { [K in OutputKind]: InProgram<OutputOf<K>> } = {
  switched: {
    figures: ({ timers }) =>
      timers
        ? { a: timers.onDelayMs, b: timers.offDelayMs, c: timers.blinkMs, flag: true }
        : { a: 0 },
    lacks: ({ limits }, name) => (limits ? `least and longest times of ${name}` : ''),
  },
  pulsed: {
    figures: ({ lengthMs, again }) => ({ a: lengthMs, flag: again === 'ignore' }),
    lacks: nothing,
  },
  held: { figures: ({ timeoutMs }) => ({ a: timeoutMs }), lacks: nothing },
  opposed: {
    figures: ({ deadTimeMs, runLimitMs, stepHz, drive }) =>
      drive === 'coils'
        ? null
        : { a: deadTimeMs, b: runLimitMs, c: stepHz, flag: drive === 'stepper' },
    lacks: ({ forwardEnd, reverseEnd }, name) =>
      forwardEnd !== null || reverseEnd !== null ? `end contacts of ${name}` : '',
  },
  level: {
    figures: ({ rampMs, minimum, below }) => ({
      a: rampMs,
      c: minimum,
      flag: below === 'minimum',
    }),
    lacks: nothing,
  },
  choice: { figures: () => null, lacks: nothing },
  follower: {
    figures: ({ pulseMs, gapMs }) => ({ a: pulseMs, b: gapMs }),
    lacks: ({ round }, name) => (round ? `the shorter way round of ${name}` : ''),
  },
}
const rowOf = ({ kind }: Output): InProgram<Output> => ROWS[kind]

/** Figures of an output in the program's table; null where it does not know the kind. */
export function figuresOf(output: Output): Figures | null {
  return rowOf(output).figures(output)
}

/** What of an output the program does not do; "" where it does all. */
export function lacksOf(output: Output, name: string): string {
  const { figures, lacks } = rowOf(output)
  return figures(output) ? lacks(output, name) : `what ${name} does`
}
