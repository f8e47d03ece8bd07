/** Seeded generator: mulberry32 (Tommy Ettinger, public domain), 32-bit state, period 2^32. Same seed, same run. */
export interface Random { next: () => number }

/** Numbers in [0, 1). */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0
  return {
    next() {
      state = (state + 0x6D2B79F5) >>> 0
      let t = state
      t = Math.imul(t ^ (t >>> 15), t | 1)
      t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
      return ((t ^ (t >>> 14)) >>> 0) / 4294967296
    },
  }
}
