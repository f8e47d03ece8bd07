/**
 * Bytes out of the levels of a serial line, as logic probes record them: one start bit, eight data
 * bits with the lowest first, one stop bit, no parity. Each bit is read in its middle.
 */

/** A level from `t` on, s. */
export interface Edge {
  t: number
  level: 0 | 1
}
export interface LineByte {
  /** When its start bit began, s. */
  t: number
  byte: number
  /** Its stop bit was high. */
  framed: boolean
}

/** `edges` rising in time; the line rests high before the first. */
export function lineBytes(edges: readonly Edge[], baud: number): LineByte[] {
  const bit = 1 / baud
  const out: LineByte[] = []
  let at = 0
  const levelAt = (t: number): 0 | 1 => {
    while (at + 1 < edges.length && edges[at + 1]!.t <= t) at++
    return edges[at] && edges[at]!.t <= t ? edges[at]!.level : 1
  }
  for (let i = 0; i < edges.length; i++) {
    const edge = edges[i]!
    const before = edges[i - 1]?.level ?? 1
    if (edge.level !== 0 || before !== 1) continue
    at = i
    let byte = 0
    for (let n = 0; n < 8; n++) byte |= levelAt(edge.t + (n + 1.5) * bit) << n
    const framed = levelAt(edge.t + 9.5 * bit) === 1
    out.push({ t: edge.t, byte, framed })
    // The next start bit comes after this stop bit has begun.
    while (i + 1 < edges.length && edges[i + 1]!.t < edge.t + 9.5 * bit) i++
  }
  return out
}

/** Speeds that serial lines of such boards have. */
export const SPEEDS = [1200, 2400, 4800, 9600, 19_200, 38_400, 57_600, 115_200] as const

/**
 * The speed that a line seems to have: the usual one that its shortest level lasts a bit of; null
 * where there is too little to tell.
 */
export function likelySpeed(edges: readonly Edge[]): number | null {
  const lengths = edges
    .slice(1)
    .map((e, i) => e.t - edges[i]!.t)
    .filter(l => l > 0)
  if (lengths.length < 8) return null
  const shortest = Math.min(...lengths)
  const off = (speed: number) => Math.abs(Math.log(shortest * speed))
  const nearest = SPEEDS.toSorted((a, b) => off(a) - off(b))[0]!
  return off(nearest) < 0.2 ? nearest : null
}
