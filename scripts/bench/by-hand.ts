/**
 * One system explored by a program written for it alone, with everything packed into one number: a relay, a wall button, and a phone over
 * serial Bluetooth that shows what is reported and marks what it knows when the link is lost. What the generic search is held against.
 *
 *   bit 0 power, 1 value, 2 link up, 3 phone knows it is up, 4-6 shown (0 nothing, 1 off, 2 on, 3 off stale, 4 on stale)
 *   7-10 two commands on their way (1 on, 2 off), 11-14 two reports (1 on, 2 off), 15-18 presses, 19-22 keys, 23-25 drops, 26-27 cuts left
 */
export interface HandBounds { presses: number, commands: number, drops: number, powerCuts: number }

export function exploredByHand({ presses, commands, drops, powerCuts }: HandBounds): number {
  let states = new Int32Array(1024)
  let parents = new Int32Array(1024)
  let via = new Uint8Array(1024)
  let slots = new Int32Array(4096)
  let count = 0
  let at = -1
  const add = (s: number, event: number) => {
    const mask = slots.length - 1
    let h = Math.imul(s ^ 0x9E3779B9, 0x85EBCA6B)
    h = Math.imul(h ^ h >>> 13, 0xC2B2AE35)
    let slot = (h ^ h >>> 16) & mask
    for (let seen = slots[slot] as number; seen !== 0; seen = slots[slot] as number) {
      if (states[seen - 1] === s) return
      slot = slot + 1 & mask
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
      let h = Math.imul(s ^ 0x9E3779B9, 0x85EBCA6B)
      h = Math.imul(h ^ h >>> 13, 0xC2B2AE35)
      let slot = (h ^ h >>> 16) & mask
      while (slots[slot] !== 0) slot = slot + 1 & mask
      slots[slot] = i + 1
    }
  }
  /** A report of the value behind those that are on their way; -1 where there is no room. */
  const told = (s: number): number => {
    if (!(s & 4)) return s
    const report = s & 2 ? 1 : 2
    if (!(s >>> 11 & 3)) return s | report << 11
    return s >>> 13 & 3 ? -1 : s | report << 13
  }
  const stale = (s: number): number => {
    const shown = s >>> 4 & 7
    return shown === 1 || shown === 2 ? s & ~(7 << 4) | shown + 2 << 4 : s
  }
  const OFF = ~(2 | 4 | 15 << 7 | 15 << 11)
  const FALLEN = ~(4 | 15 << 7 | 15 << 11)
  add(1 | 4 | 8 | 1 << 4 | presses << 15 | commands << 19 | drops << 23 | powerCuts << 26, 0)
  for (at = 0; at < count; at++) {
    const s = states[at] as number
    const command = s >>> 7 & 3
    if (command) {
      const rest = s & ~(15 << 7) | (s >>> 9 & 3) << 7
      const next = told(command === 1 ? rest | 2 : rest & ~2)
      if (next !== -1) add(next, 1)
    }
    const report = s >>> 11 & 3
    if (report) add(s & ~(15 << 11 | 7 << 4) | (s >>> 13 & 3) << 11 | (report === 1 ? 2 : 1) << 4, 2)
    if (s >>> 15 & 15 && s & 1) {
      const next = told((s ^ 2) - (1 << 15))
      if (next !== -1) add(next, 3)
    }
    if (s >>> 19 & 15 && s & 8) {
      for (let want = 1; want <= 2; want++) {
        const spent = s - (1 << 19)
        if (!(s & 4)) add(spent, 3 + want)
        else if (!command) add(spent | want << 7, 3 + want)
        else if (!(s >>> 9 & 3)) add(spent | want << 9, 3 + want)
      }
    }
    if (s & 4 && s >>> 23 & 7) add((s & FALLEN) - (1 << 23), 6)
    if (!(s & 4)) {
      if (s & 8) add(stale(s) & ~8, 7)
      if (s & 1) add(told((s & 8 ? stale(s) : s) | 12), 8)
    }
    if (s & 1 && s >>> 26 & 3) add((s & OFF & ~1) - (1 << 26), 9)
    if (!(s & 1)) add(s | 1, 10)
  }
  return count
}
