/**
 * Onto the board: the protocol of the usual boot loader of 8-bit boards (STK500 version 1, Atmel
 * application note AVR061), over any serial line whose data terminal ready resets the board. Each
 * page is written, then all is read back.
 */
export interface UploadPort {
  write(bytes: Uint8Array): Promise<void>
  /** As many bytes as are asked for; what has come by then where the time is over. */
  read(count: number, ms: number): Promise<Uint8Array>
  /** Pulls the line that resets the board, and lets it go. */
  reset(): Promise<void>
}

export interface UploadChip {
  name: string
  signature: readonly [number, number, number]
  pageBytes: number
  /** Flash without the boot loader. */
  flashBytes: number
  baud: number
}

/** The usual chip of the 8-bit class, with the boot loader that its boards come with. */
export const USUAL_CHIP: UploadChip = {
  name: 'ATmega328P',
  signature: [0x1e, 0x95, 0x0f],
  pageBytes: 128,
  flashBytes: 32_256,
  baud: 115_200,
}

export type UploadStep = 'connecting' | 'writing' | 'reading back'
export interface UploadProgress {
  step: UploadStep
  done: number
  of: number
}
/** What went wrong, and what to look at. `at`: the byte that differs. */
export class UploadFailed extends Error {
  constructor(
    readonly code: 'no-answer' | 'other-chip' | 'too-large' | 'lost' | 'differs' | 'cancelled',
    message: string,
    readonly at: number | null = null,
  ) {
    super(message)
  }
}

const IN_SYNC = 0x14
const OK = 0x10
const END_OF_COMMAND = 0x20
const GET_SYNC = 0x30
const ENTER = 0x50
const LEAVE = 0x51
const LOAD_ADDRESS = 0x55
const WRITE_PAGE = 0x64
const READ_PAGE = 0x74
const READ_SIGNATURE = 0x75
const FLASH = 0x46

const TRIES = 4
/** The loader has its serial port ready by then, and what the former program said is over. */
const WAKES_MS = 100
/** It blinks for 375 ms first, and keeps two bytes meanwhile: it is asked once. */
const SYNC_MS = 600
const ANSWER_MS = 1000

const NO_ANSWER =
  'The board does not answer. Look whether it is the right port, whether a module or wire is still on its serial pins (unplug it), and whether another program has the port open; older boards listen at 57600 baud.'

/**
 * Writes an image and reads it back. Throws `UploadFailed`; a board that was left half-written has
 * its boot loader still, and can be tried again.
 */
export async function upload(
  port: UploadPort,
  image: Uint8Array,
  chip: UploadChip = USUAL_CHIP,
  told: (progress: UploadProgress) => void = () => {},
  cancelled: () => boolean = () => false,
): Promise<void> {
  if (image.length > chip.flashBytes)
    throw new UploadFailed(
      'too-large',
      `The program takes ${image.length} bytes; the chip has room for ${chip.flashBytes}. Take the file without the boot loader where there are two.`,
    )
  const pages = Math.ceil(image.length / chip.pageBytes)
  const padded = new Uint8Array(pages * chip.pageBytes).fill(0xff)
  padded.set(image)
  const page = (n: number) => padded.subarray(n * chip.pageBytes, (n + 1) * chip.pageBytes)
  const tell = (step: UploadStep, done: number) => {
    told({ step, done, of: pages })
    if (cancelled())
      throw new UploadFailed(
        'cancelled',
        'Given up: the board has no whole program now. Upload again; its boot loader is as it was.',
      )
  }
  tell('connecting', 0)
  await connected(port)
  const signature = await asked(port, [READ_SIGNATURE], 3)
  if (chip.signature.some((byte, i) => signature[i] !== byte))
    throw new UploadFailed(
      'other-chip',
      `Another chip answers: ${hex(signature)}. The program is for the ${chip.name}, ${hex(chip.signature)}.`,
    )
  await asked(port, [ENTER], 0)
  for (let n = 0; n < pages; n++) {
    tell('writing', n)
    await addressed(port, n, chip)
    await asked(port, [WRITE_PAGE, ...size(chip), FLASH, ...page(n)], 0)
  }
  for (let n = 0; n < pages; n++) {
    tell('reading back', n)
    await addressed(port, n, chip)
    const is = await asked(port, [READ_PAGE, ...size(chip), FLASH], chip.pageBytes)
    const wanted = page(n)
    const differs = is.findIndex((byte, i) => byte !== wanted[i])
    if (differs >= 0) {
      const at = n * chip.pageBytes + differs
      throw new UploadFailed(
        'differs',
        `Byte ${at} is ${is[differs]} on the board and ${wanted[differs]} in the program. Try again; where it happens again its flash is worn or the supply too weak.`,
        at,
      )
    }
  }
  await asked(port, [LEAVE], 0)
  told({ step: 'reading back', done: pages, of: pages })
}

async function connected(port: UploadPort): Promise<void> {
  for (let n = 0; n < TRIES; n++) {
    await port.reset()
    await port.read(MOST_SAID, WAKES_MS)
    await port.write(Uint8Array.of(GET_SYNC, END_OF_COMMAND))
    const answer = await port.read(2, SYNC_MS)
    if (answer[0] === IN_SYNC && answer[1] === OK) return
  }
  throw new UploadFailed('no-answer', NO_ANSWER)
}
/** More than a program says in that time. */
const MOST_SAID = 4096

/** Asks, and returns the bytes between the two that every answer has. */
async function asked(
  port: UploadPort,
  command: readonly number[],
  answers: number,
): Promise<Uint8Array> {
  await port.write(Uint8Array.from([...command, END_OF_COMMAND]))
  const answer = await port.read(answers + 2, ANSWER_MS)
  if (answer.length !== answers + 2 || answer[0] !== IN_SYNC || answer.at(-1) !== OK)
    throw new UploadFailed(
      'lost',
      'The board stopped answering on the way. Nothing is lost: its boot loader is as it was, upload again. Cable, hub, or something else that speaks on its serial pins.',
    )
  return answer.subarray(1, -1)
}

/** Addresses of flash count words. */
async function addressed(port: UploadPort, page: number, chip: UploadChip): Promise<void> {
  const word = (page * chip.pageBytes) / 2
  await asked(port, [LOAD_ADDRESS, word & 0xff, word >> 8], 0)
}

const size = ({ pageBytes }: UploadChip) => [pageBytes >> 8, pageBytes & 0xff]
const hex = (bytes: Iterable<number>) =>
  [...bytes].map(b => b.toString(16).padStart(2, '0')).join(' ')
