/**
 * A situation in four packed 32-bit words:
 *   word 0    board state (16 bits), power, link up, levers (6)
 *   word 1    surface state (18), notes of what is watched (14)
 *   word 2    messages on the way up, a byte each, the first to arrive lowest; 0 = none
 *   word 3    messages on the way down, likewise
 */
export const WORDS = 4
export const POWER = 1 << 16
export const UP = 1 << 17
export const LEVERS = 18
export const MAX_LEVERS = 6
export const ALL_LEVERS = (1 << MAX_LEVERS) - 1
/** Messages under way in one direction, and said at once, at most: as many bytes as a word has. */
export const MOST_EACH_WAY = 4

/**
 * Notes about one press of a surface, chosen at any moment: which messages on the way up are it or
 * a repeat of it; that it arrived, or was seen not to, or that somebody did something since; that
 * it acted; that it was made; that another press of the same surface came after.
 */
export const TAGS = 18
export const ALL_TAGS = 0xf << TAGS
export const TAKEN = 1 << 22
export const DID = 1 << 23
export const WATCHING = 1 << 24
export const OUTDONE = 1 << 25
/** The value that the press asks for, two bits of its number. */
export const ASKED_AT = 26
/** Notes about a start of the surface: 1 after it, 2 a step up was asked for, 3 a step down. */
export const START_AT = 28
export const START = 3 << START_AT
export const STARTED = 1 << START_AT
export const STEP_UP = 2 << START_AT
export const STEP_DOWN = 3 << START_AT

/** How many messages a word of them holds. */
export function lengthOf(queue: number): number {
  if (queue === 0) return 0
  if (queue >>> 8 === 0) return 1
  if (queue >>> 16 === 0) return 2
  return queue >>> 24 === 0 ? 3 : 4
}

/** A word of messages without its nth one. */
export function without(queue: number, nth: number): number {
  const low = (1 << (8 * nth)) - 1
  return (queue & low) | ((queue >>> 8) & ~low)
}

/** Messages behind others; there has to be room. */
export function behind(queue: number, sent: number): number {
  return queue | (sent << (8 * lengthOf(queue)))
}

/** The nth message, or 0. */
export function messageAt(queue: number, nth: number): number {
  return (queue >>> (8 * nth)) & 0xff
}

/** Bits that belong to messages by place, without that of the nth one. */
export function withoutTag(tags: number, nth: number): number {
  const low = (1 << nth) - 1
  return (tags & low) | ((tags >>> 1) & ~low)
}

/** Notes when the nth message on the way up is gone. */
export function untagged(w1: number, nth: number): number {
  return (w1 & ~ALL_TAGS) | (withoutTag((w1 >>> TAGS) & 0xf, nth) << TAGS)
}

/** A word of messages, sorted; places that are empty lie behind. */
export function sorted(queue: number): number {
  if (queue >>> 8 === 0) return queue
  let sorted = queue
  // Neighbours are changed until all stand in order.
  for (let end = 24; end > 0; end -= 8) {
    for (let at = 0; at < end; at += 8) {
      const [a, b] = [(sorted >>> at) & 0xff, (sorted >>> (at + 8)) & 0xff]
      if (b !== 0 && a > b) sorted ^= ((a ^ b) << at) | ((a ^ b) << (at + 8))
    }
  }
  return sorted
}

/** A word of messages and a bit for each, sorted together. */
export function sortedWith(queue: number, tags: number): { queue: number; tags: number } {
  const length = lengthOf(queue)
  let [sorted, marks] = [queue, tags & ((1 << length) - 1)]
  for (let end = length - 1; end > 0; end--) {
    for (let at = 0; at < end; at++) {
      const [a, b] = [messageAt(sorted, at), messageAt(sorted, at + 1)]
      const turned = ((marks >>> at) ^ (marks >>> (at + 1))) & 1
      if (a < b || (a === b && !(turned && (marks >>> at) & 1))) continue
      sorted ^= ((a ^ b) << (8 * at)) | ((a ^ b) << (8 * at + 8))
      marks ^= turned * (3 << at)
    }
  }
  return { queue: sorted, tags: marks }
}
