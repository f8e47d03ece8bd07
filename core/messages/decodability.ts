/**
 * Can every stream of codes be read in one way only? The test of Sardinas and Patterson (1953),
 * searched in order of length, so that what it names is a shortest ambiguous text.
 */
export interface Ambiguous {
  text: string
  readings: [string[], string[]]
}

interface Dangling {
  /** What the longer reading is ahead by. */
  rest: string
  length: number
  ahead: string[]
  behind: string[]
}

/**
 * A shortest text with two readings, or null when there is none. Empty codes and duplicates are for
 * the caller.
 */
export function ambiguity(codes: readonly string[]): Ambiguous | null {
  const list = [...new Set(codes)].filter(c => c !== '').sort()
  const open: Dangling[] = []
  const best = new Map<string, number>()
  const add = (next: Dangling) => {
    if (next.length >= (best.get(next.rest) ?? Infinity)) return
    best.set(next.rest, next.length)
    open.push(next)
  }
  for (const a of list)
    for (const b of list)
      if (a !== b && b.startsWith(a))
        add({ rest: b.slice(a.length), length: b.length, ahead: [b], behind: [a] })
  while (open.length) {
    // The least long first; ties by the text, so that the answer does not depend on the order of
    // the table.
    let least = 0
    for (let i = 1; i < open.length; i++) if (open[i]!.length < open[least]!.length) least = i
    const [at] = open.splice(least, 1) as [Dangling]
    if (at.length > (best.get(at.rest) ?? Infinity)) continue
    for (const code of list) {
      if (code === at.rest)
        return { text: at.ahead.join(''), readings: [at.ahead, [...at.behind, code]] }
      // The shorter reading goes on with a code that stays behind, or gets ahead itself.
      if (at.rest.startsWith(code))
        add({
          rest: at.rest.slice(code.length),
          length: at.length,
          ahead: at.ahead,
          behind: [...at.behind, code],
        })
      else if (code.startsWith(at.rest))
        add({
          rest: code.slice(at.rest.length),
          length: at.length - at.rest.length + code.length,
          ahead: [...at.behind, code],
          behind: at.ahead,
        })
    }
  }
  return null
}
