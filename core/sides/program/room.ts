/**
 * How much of an 8-bit board the program of a design takes. Memory follows from what each thing
 * needs (engine/controller.h, on a chip whose numbers have no gaps between them). Flash is reckoned
 * by weights: programs of 176 designs were compiled with the packaged core (gcc 5.4, -Os -flto),
 * and the weights fitted to them by least squares: 159 bytes off in the mean, 856 at most.
 */
import { classOf } from '../../boards/classes'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { engineSizes, type EngineSizes } from './sizes'
import { tableBytes } from './image-fit'
import { partTable } from './part-table'
import { boardUses } from './wiring'

export interface ProgramRoom {
  /** What it takes, bytes; of flash about. */
  flash: number
  memory: number
  /** What the board has: flash without its boot loader, memory without what calls need. */
  has: { flash: number; memory: number }
}

/** Of flash, bytes: each weight counts once where the program has any of it. */
const WEIGHTS = {
  base: 4181,
  timed: 1258,
  plain: 255,
  pulsed: 236,
  held: 756,
  opposed: 1444,
  level: 802,
  follower: 888,
  choice: 141,
  steps: 300,
  inputs: 2500,
  knobs: 1407,
  sticks: 1351,
  links: 4506,
  sensors: 1561,
  measures: 2130,
  reals: 1351,
  readings: 2046,
  rules: 1158,
  lamps: 1470,
  queue: 650,
  seen: 944,
  ends: 104,
  sealed: 778,
  tags: 7047,
  numbers: 814,
  times: 947,
  gestures: 901,
  together: 504,
  codes: 544,
  frames: 2400,
  lines: 186,
  box: -700,
  paced: 680,
  asked: -1900,
  soft: 1831,
  own: 1409,
  both: -1266,
  receiver: 1811,
  expanders: 1607,
  thermometers: 529,
  inputsAndSensors: -281,
  inputsAndLinks: -965,
  sensorsAndLinks: -218,
} as const
/** How far a weight for each thing may be off, for it takes less beside others: a tenth. */
export const FLASH_OFF = 0.1
/** A byte of the table, with what reads it. */
const A_TABLE_BYTE = 1.92

/** What the packaged core and the board's own code need of memory, bytes. */
const BASE = 3
const OWN_PORT = 143
const SOFT_WIRE = 76
const READS_SENSORS = 17
const RECEIVER = 25
/** Reasons of refusals are texts in memory. */
const PROOFS = 94
/** For calls and what they work on, beside the texts of links. */
const CALLS = 250
/** A keyed hash is reckoned on the stack. */
const SIGNS = 300

const TIMER = 5
/** Of a load before several are set together. */
const SHOWN = 12

/**
 * Of a box; of what it believes of a load; of what waits until it may be said, and for an answer.
 */
const BOX = 31
const BELIEF = 27
const WISH = 12
const SIGNED = 23

/** Bytes of memory of the engine and its board (`State`, `Controller`, board.cpp). */
function memoryOf({ timed, small, wide, has }: EngineSizes): number {
  const of = (key: keyof typeof small) => small[key] || 1
  const { loads } = small
  const { buffer } = wide
  const motion = 7 + TIMER * of('timers') + (timed ? 12 : 0)
  const link =
    10 + buffer + 7 * of('seen') + 6 * of('queue') + 6 * of('leasts') + Math.ceil(loads / 8)
  const together = has.together ? loads : 1
  return (
    18
    + motion * loads
    + 6 * of('helds') * of('holders')
    + 10 * loads
    + 32 * of('inputs')
    + 8 * of('knobs')
    + 6 * of('sticks')
    + (link + 42) * of('links')
    + 26 * of('sensors')
    + 22 * of('readings')
    + 10 * of('rules')
    + 6 * of('lamps')
    + together * (1 + SHOWN)
    + (has.box
      ? BOX + BELIEF * loads + WISH * of('paced') + SIGNED * of('asked') + of('inputs')
      : 0)
  )
}

/** null where the class of the board is not known to have so much and no more. */
export function programRoom(part: Design): ProgramRoom | null {
  const { memory: chip } = classOf(boardOf(part))
  if (!chip) return null
  const { program, carried, table } = partTable(part)
  const sizes = engineSizes(program)
  const uses = boardUses(part, carried)
  const { small, has } = sizes
  const any = (key: keyof typeof small) => small[key] > 0
  const kind = (nth: number) => ((small.kinds >> nth) & 1) === 1
  const port = (which: string) => carried.some(c => c.port === which)
  const receiver = uses.RECEIVER > 0
  const is: Record<keyof typeof WEIGHTS, boolean> = {
    base: true,
    timed: sizes.timed,
    plain: kind(0),
    pulsed: kind(1),
    held: kind(2),
    opposed: kind(3),
    level: kind(4),
    follower: kind(5),
    choice: kind(6),
    inputs: any('inputs'),
    knobs: any('knobs'),
    sticks: any('sticks'),
    links: any('links'),
    sensors: any('sensors'),
    readings: any('readings'),
    rules: any('rules'),
    lamps: any('lamps'),
    queue: any('queue'),
    seen: any('seen'),
    ends: has.ends,
    steps: uses.STEPS > 0,
    measures: has.measures,
    reals: has.reals,
    sealed: has.sealed,
    tags: has.tags,
    numbers: has.numbers,
    times: has.times,
    gestures: has.gestures,
    together: has.together,
    codes: has.codes,
    frames: has.frames,
    lines: has.lines,
    box: has.box,
    paced: any('paced'),
    asked: any('asked'),
    soft: port('soft'),
    own: port('own'),
    both: port('soft') && port('own'),
    receiver,
    expanders: uses.EXPANDERS > 0,
    thermometers: uses.THERMOMETERS > 0,
    inputsAndSensors: any('inputs') && any('sensors'),
    inputsAndLinks: any('inputs') && any('links'),
    sensorsAndLinks: any('sensors') && any('links'),
  }
  const weights = Object.entries(WEIGHTS) as [keyof typeof WEIGHTS, number][]
  const flash = weights.reduce((sum, [key, bytes]) => sum + (is[key] ? bytes : 0), 0)
  return {
    flash: Math.round(flash + A_TABLE_BYTE * tableBytes(table)),
    memory:
      BASE
      + memoryOf(sizes)
      + (is.own ? OWN_PORT : 0)
      + (is.soft ? SOFT_WIRE : 0)
      + (is.sensors ? READS_SENSORS : 0)
      + (receiver ? RECEIVER : 0)
      + (is.sealed && !has.box ? PROOFS : 0),
    // A message is copied while it is looked at, and once more with its parts in order; a structure
    // is taken out of its frame, and framed again.
    has: {
      flash: chip.flash,
      memory:
        chip.memory - CALLS - (is.tags ? SIGNS : 0) - (has.frames ? 5 : 3) * sizes.wide.buffer,
    },
  }
}
