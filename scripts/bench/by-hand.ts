/**
 * One system explored by a program written for it alone, with everything packed into one number: a
 * relay, a wall button, and a phone over serial Bluetooth that shows what is reported and marks
 * what it knows when the link is lost. What the generic search is held against.
 *
 *   bit 0 power, 1 value, 2 link up, 3 phone knows it is up, 4-6 shown (0 nothing, 1 off, 2 on, 3
 *   off stale, 4 on stale)
 *   7-14 four commands on their way (1 on, 2 off), 15-22 four reports (1 on, 2 off), the first
 *   lowest
 */
export function exploredByHand(room: number): number {
  let states = new Int32Array(1024)
  let parents = new Int32Array(1024)
  let via = new Uint8Array(1024)
  let slots = new Int32Array(4096)
  let count = 0
  let at = -1
  const add = (s: number, event: number) => {
    const mask = slots.length - 1
    let h = Math.imul(s ^ 0x9e3779b9, 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
    let slot = (h ^ (h >>> 16)) & mask
    for (let seen = slots[slot] as number; seen !== 0; seen = slots[slot] as number) {
      if (states[seen - 1] === s) return
      slot = (slot + 1) & mask
    }
    if (count === states.length) {
      const [a, b, c] = [states, parents, via]
      states = new Int32Array(count * 2)
      states.set(a)
      parents = new Int32Array(count * 2)
      parents.set(b)
      via = new Uint8Array(count * 2)
      via.set(c)
    }
    states[count] = s
    parents[count] = at
    via[count] = event
    slots[slot] = ++count
    if (count * 2 > slots.length) grow()
  }
  const grow = () => {
    slots = new Int32Array(slots.length * 2)
    const mask = slots.length - 1
    for (let i = 0; i < count; i++) {
      const s = states[i] as number
      let h = Math.imul(s ^ 0x9e3779b9, 0x85ebca6b)
      h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
      let slot = (h ^ (h >>> 16)) & mask
      while (slots[slot] !== 0) slot = (slot + 1) & mask
      slots[slot] = i + 1
    }
  }
  const length = (queue: number): number =>
    queue === 0 ? 0 : queue >>> 2 === 0 ? 1 : queue >>> 4 === 0 ? 2 : queue >>> 6 === 0 ? 3 : 4
  /**
   * A report of the value behind those that are on their way; -1 where there is no room. An answer
   * always finds room.
   */
  const told = (s: number, answers: boolean): number => {
    if (!(s & 4)) return s
    const reports = length((s >>> 15) & 255)
    if (reports === 4 || (!answers && reports + length((s >>> 7) & 255) >= room)) return -1
    return s | ((s & 2 ? 1 : 2) << (15 + 2 * reports))
  }
  const stale = (s: number): number => {
    const shown = (s >>> 4) & 7
    return shown === 1 || shown === 2 ? (s & ~(7 << 4)) | ((shown + 2) << 4) : s
  }
  const FALLEN = ~(4 | (0xffff << 7))
  const OFF = FALLEN & ~2
  add(1 | 4 | 8 | (1 << 4), 0)
  for (at = 0; at < count; at++) {
    const s = states[at] as number
    const commands = (s >>> 7) & 255
    const reports = (s >>> 15) & 255
    if (commands) {
      const rest = (s & ~(255 << 7)) | ((commands >>> 2) << 7)
      const next = told((commands & 3) === 1 ? rest | 2 : rest & ~2, true)
      if (next !== -1) add(next, 1)
    }
    if (reports)
      add(
        (s & ~((255 << 15) | (7 << 4)))
          | ((reports >>> 2) << 15)
          | (((reports & 3) === 1 ? 2 : 1) << 4),
        2,
      )
    if (s & 1) {
      const next = told(s ^ 2, false)
      if (next !== -1) add(next, 3)
    }
    if (s & 8) {
      for (let want = 1; want <= 2; want++) {
        if (!(s & 4)) add(s, 3 + want)
        else if (length(commands) < 4 && length(commands) + length(reports) < room)
          add(s | (want << (7 + 2 * length(commands))), 3 + want)
      }
    }
    if (s & 4) add(s & FALLEN, 6)
    else {
      if (s & 8) add(stale(s) & ~8, 7)
      if (s & 1) add(told((s & 8 ? stale(s) : s) | 12, true), 8)
    }
    if (s & 1) add(s & OFF & ~1, 9)
    else add(s | 1, 10)
  }
  return count
}
