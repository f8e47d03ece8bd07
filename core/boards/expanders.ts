/**
 * Pins that join those of a board: shift registers in a row, or a port behind a two-wire bus. What
 * is stated of each is common to parts of its class, as their data sheets have it.
 */
import type { BoardPin, BoardProfile, Hazard } from './schema'

/** What of an expander its pins depend on. */
export interface Expanding {
  kind: 'shift' | 'two-wire'
  firstPin: number
  pins: number
  /** Output enable of shift registers; null = not wired. */
  enablePin?: number | null
}

interface Class {
  words: string
  can: BoardPin['can']
  hazards(of: Expanding): Hazard[]
  /** Of one pin, and of all of an expander, A. */
  pinMaxAmps: number
  totalMaxAmps: number
  /** Pulls up what has to be: the enable line of registers, both lines of a bus. */
  pullOhms: number
  /** How long a change takes to reach the pins, at most, ms; below the clock of a controller. */
  writeMs: number
}

export const EXPANDERS: Record<Expanding['kind'], Class> = {
  shift: {
    words: 'shift registers, outputs only',
    can: ['out'],
    hazards: ({ enablePin }) =>
      (enablePin ?? null) === null
        ? [
            {
              kind: 'boot-log',
              words: 'of a shift register stands at anything until the program writes to it',
            },
          ]
        : [],
    pinMaxAmps: 0.02,
    totalMaxAmps: 0.07,
    pullOhms: 10_000,
    writeMs: 0.1,
  },
  // Ports without a direction: written high they are pulled up weakly, and can be read.
  'two-wire': {
    words: 'port on a two-wire bus',
    can: ['in', 'out', 'pull-up'],
    hazards: () => [
      {
        kind: 'reset-level',
        words: 'of a bus port is pulled high, weakly, until the program writes to it',
        level: 'high',
      },
    ],
    pinMaxAmps: 0.01,
    totalMaxAmps: 0.08,
    pullOhms: 4700,
    writeMs: 0.4,
  },
}

/** The pins of an expander, the nth of its board; labelled "E1.0" and up. */
export function expandedPins(of: Expanding, nth: number): BoardPin[] {
  const { can, hazards } = EXPANDERS[of.kind]
  return Array.from({ length: of.pins }, (_, i) => ({
    chip: of.firstPin + i,
    label: `E${nth + 1}.${i}`,
    can: [...can],
    hazards: hazards(of),
  }))
}

/** A board with the pins of its expanders behind its own. */
export function withExpanders(board: BoardProfile, expanders: readonly Expanding[]): BoardProfile {
  return expanders.length
    ? { ...board, pins: [...board.pins, ...expanders.flatMap(expandedPins)] }
    : board
}
