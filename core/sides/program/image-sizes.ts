/**
 * Programs that are made beforehand, for whoever has no compiler: how much room each has, and for
 * what. No chip of the class holds all that the engine can do, so that each has a task of its own;
 * a design takes the first into which it fits.
 */
import type { EngineSizes } from './sizes'
import type { BoardUses } from './wiring'

export interface ImageSizes {
  name: string
  sizes: EngineSizes
  uses: BoardUses
}

/**
 * What the chip has for a program and its table, bytes: all but its boot loader, which takes up to
 * 2 kB on older boards of the class.
 */
export const IMAGE_FLASH = 30_720
/** Room for a table is no more than this: what is not there is not to be written. */
export const TABLE_ROOM = 4096

const NOTHING: EngineSizes = {
  timed: true,
  small: {
    loads: 8,
    timers: 5,
    helds: 1,
    holders: 12,
    inputs: 8,
    knobs: 0,
    sticks: 0,
    links: 2,
    sensors: 0,
    readings: 0,
    rules: 0,
    queue: 0,
    seen: 0,
    lamps: 2,
    leasts: 8,
    paced: 0,
    asked: 0,
    kinds: 0b111_1111,
  },
  wide: { buffer: 48, senders: 0 },
  has: {
    remotes: false,
    measures: false,
    reals: false,
    ends: false,
    http: false,
    sealed: true,
    tags: false,
    numbers: true,
    times: true,
    numbered: false,
    gestures: true,
    together: true,
    codes: true,
    frames: false,
    lines: true,
    box: false,
    routes: false,
    named: false,
  },
}
const BOARD: BoardUses = {
  ALONE: 1,
  OWN_PORT: 1,
  SOFT_WIRE: 1,
  EXPANDERS: 0,
  THERMOMETERS: 0,
  RECEIVER: 0,
  PEER: 0,
  BLUETOOTH: 0,
  LOW_ENERGY: 0,
  DIMS: 1,
  STEPS: 0,
}
/** All kinds of outputs but those that turn two ways and those that follow clicks. */
const STILL = 0b101_0111

function image(
  name: string,
  small: Partial<EngineSizes['small']>,
  has: Partial<EngineSizes['has']>,
  uses: Partial<BoardUses>,
  { timed = true, buffer = 48 } = {},
): ImageSizes {
  return {
    name,
    sizes: {
      ...NOTHING,
      timed,
      small: { ...NOTHING.small, ...small },
      wide: { buffer, senders: 0 },
      has: { ...NOTHING.has, ...has },
    },
    uses: { ...BOARD, ...uses },
  }
}

export const IMAGES: readonly ImageSizes[] = [
  image('hands-and-links', {}, {}, { EXPANDERS: 1, STEPS: 1 }),
  image(
    'signed',
    { loads: 6, inputs: 6, holders: 10, links: 1, leasts: 6, kinds: STILL },
    { tags: true },
    {},
    // A proof makes messages longer.
    { buffer: 96 },
  ),
  image(
    'sensing',
    {
      loads: 6,
      inputs: 6,
      holders: 10,
      leasts: 6,
      sensors: 4,
      readings: 4,
      rules: 6,
      kinds: STILL,
    },
    { measures: true, reals: true },
    { THERMOMETERS: 1 },
  ),
  image(
    'remote-knob-and-stick',
    {
      inputs: 5,
      holders: 10,
      sensors: 2,
      knobs: 1,
      sticks: 1,
      kinds: STILL,
    },
    { remotes: true, measures: true, reals: true },
    { RECEIVER: 1 },
  ),
  image(
    'motors-and-sensors',
    { loads: 6, holders: 10, leasts: 6, sensors: 6, rules: 4 },
    { ends: true, measures: true, reals: true },
    { STEPS: 1 },
  ),
  image(
    'many',
    {
      loads: 16,
      inputs: 12,
      timers: 1,
      helds: 0,
      holders: 0,
      links: 1,
      leasts: 0,
      kinds: 1,
    },
    {},
    { EXPANDERS: 2, DIMS: 0 },
    { timed: false },
  ),
  image(
    'numbered-and-queued',
    {
      loads: 6,
      inputs: 6,
      holders: 10,
      leasts: 6,
      queue: 12,
      seen: 32,
      links: 1,
      kinds: STILL,
    },
    { numbered: true },
    {},
  ),
]
