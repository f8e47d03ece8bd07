/**
 * What follows from the class of a board: a row each. Facts of one board (pins, hazards, voltages)
 * stand in its profile; a maker's own profile names its class and has these by it. Where a class
 * says nothing ("other"), a board may do whatever its maker says.
 */
import type { BoardProfile } from './schema'

/**
 * Kinds of programs: by the registers of the chip; a service of a computer; by the environment of
 * boards with Wi-Fi, with connections of its own or with sockets; a script.
 */
export type Target = 'avr8' | 'linux' | 'router' | 'wifi-small' | 'wifi-sockets'

export type BoardClass = BoardProfile['toolchain']

export interface ClassFacts {
  /** It can speak on a network. */
  network: boolean
  /** Somebody can log in to it and start programs. */
  shell: boolean
  /** It can speak from board to board by radio. */
  peerRadio: boolean
  /** It can speak classic Bluetooth by itself. */
  bluetooth: boolean
  /** It can speak low-energy Bluetooth by itself. */
  lowEnergy: boolean
  /** Wi-Fi and Bluetooth of its chip share one antenna. */
  oneAntenna: boolean
  /**
   * Its program does one thing at a time: it is deaf while it writes memory or reckons a signature,
   * and serial lines on ordinary pins are counted out by it.
   */
  oneAtATime: boolean
  /** What a program for it is made of; null = none is made. */
  program: Target | null
  /** Flash without the boot loader and memory of its usual chip, bytes; null = no matter. */
  memory: { flash: number; memory: number } | null
  /** What it takes by itself at most, A: radios at their sending peak. */
  selfAmps: number
  /** Clock of its serial port: 16 MHz in steps of 8 at double speed; 80 MHz; null = not known. */
  uart: { clockHz: number; divisorStep: number } | null
  /**
   * Room for a page, bytes. 8-bit boards keep text in 32 kB of program memory beside the program
   * itself; boards with Wi-Fi have megabytes, but the page shares the part that holds files or is
   * built into a program of about a megabyte; a router or computer has room enough. Rules of thumb
   * for the class, to be changed by whoever knows better.
   */
  page: { bytes: number; why: string }
}

const roomFor = (bytes: number) => ({
  bytes,
  why: `about ${bytes / 1000} kB can be built into the program of such a board`,
})
const ROOM_ENOUGH = {
  bytes: 2_000_000,
  why: 'pages of 2 MB and more take seconds to load over a slow network',
}
/** A computer: what it has no part in. */
const COMPUTER = {
  network: true,
  shell: true,
  peerRadio: false,
  bluetooth: false,
  lowEnergy: false,
  oneAntenna: false,
  oneAtATime: false,
  program: null,
  memory: null,
  uart: null,
  page: ROOM_ENOUGH,
}

const CLASSES: Record<BoardClass, ClassFacts> = {
  'avr-8bit': {
    network: false,
    shell: false,
    peerRadio: false,
    bluetooth: false,
    lowEnergy: false,
    oneAntenna: false,
    oneAtATime: true,
    program: 'avr8',
    // ATmega328P: 32 kB less 512 bytes, 2 kB.
    memory: { flash: 32_256, memory: 2048 },
    selfAmps: 0.05,
    uart: { clockHz: 16_000_000, divisorStep: 8 },
    page: { bytes: 8_000, why: 'an 8-bit board has about 8 kB left beside its program' },
  },
  'wifi-single-radio': {
    network: true,
    shell: false,
    peerRadio: true,
    bluetooth: false,
    lowEnergy: false,
    oneAntenna: false,
    oneAtATime: false,
    program: 'wifi-small',
    memory: null,
    selfAmps: 0.35,
    uart: { clockHz: 80_000_000, divisorStep: 1 },
    page: roomFor(200_000),
  },
  'dual-radio': {
    network: true,
    shell: false,
    peerRadio: true,
    bluetooth: true,
    lowEnergy: true,
    oneAntenna: true,
    oneAtATime: false,
    program: 'wifi-sockets',
    memory: null,
    selfAmps: 0.5,
    uart: { clockHz: 80_000_000, divisorStep: 1 / 16 },
    page: roomFor(300_000),
  },
  'single-core': {
    network: true,
    shell: false,
    peerRadio: false,
    bluetooth: false,
    lowEnergy: true,
    oneAntenna: true,
    oneAtATime: false,
    program: 'wifi-sockets',
    memory: null,
    selfAmps: 0.35,
    uart: { clockHz: 80_000_000, divisorStep: 1 / 16 },
    page: roomFor(200_000),
  },
  linux: { ...COMPUTER, program: 'linux', lowEnergy: true, selfAmps: 1.2 },
  router: { ...COMPUTER, program: 'router', selfAmps: 0.6 },
  other: { ...COMPUTER, peerRadio: true, bluetooth: true, lowEnergy: true, selfAmps: 0.1 },
}

/** What follows from the class of a board. */
export function classOf({ toolchain }: Pick<BoardProfile, 'toolchain'>): ClassFacts {
  return CLASSES[toolchain]
}
