/**
 * Seeded generator: mulberry32 (Tommy Ettinger, public domain), 32-bit state, period 2^32. Same
 * seed, same run.
 */
export interface Random {
  next: () => number
}

/**
 * The seed of a stream of its own: FNV-1a over the common seed and a name, so that other streams do
 * not move it.
 */
export function streamSeed(seed: number, name: string): number {
  let hash = 0x811c9dc5
  for (const char of `${seed >>> 0} ${name}`)
    hash = Math.imul(hash ^ (char.codePointAt(0) as number), 0x01000193)
  return hash >>> 0
}

/** Numbers in [0, 1). */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0
  return {
    next() {
      state = (state + 0x6d2b79f5) >>> 0
      let t = state
      t = Math.imul(t ^ (t >>> 15), t | 1)
      t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
      return ((t ^ (t >>> 14)) >>> 0) / 4294967296
    },
  }
}
