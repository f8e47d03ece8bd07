/**
 * Decoding codes that follow one another in a byte stream without separators. A code acts at its last byte: the
 * shortest code that matches wins, which is why a code that starts with another code is never understood.
 */
export type Heard = { kind: 'code', code: string } | { kind: 'unknown', bytes: string }

export interface StreamStep { buffer: string, heard: Heard[] }

/**
 * Feed one character. `codes` is the set of whole codes. When the buffer can no longer become a code, its first
 * characters are given up and the last one is tried again as a start: one wrong byte costs at most one code.
 */
export function feed(codes: ReadonlySet<string>, buffer: string, char: string): StreamStep {
  const grown = buffer + char
  if (codes.has(grown)) return { buffer: '', heard: [{ kind: 'code', code: grown }] }
  if (startsSome(codes, grown)) return { buffer: grown, heard: [] }
  if (buffer === '') return { buffer: '', heard: [{ kind: 'unknown', bytes: char }] }
  const again = feed(codes, '', char)
  return { buffer: again.buffer, heard: [{ kind: 'unknown', bytes: buffer }, ...again.heard] }
}

/** Feed a text; returns all that was heard and what is left half-read. */
export function feedAll(codes: ReadonlySet<string>, buffer: string, text: string): StreamStep {
  const heard: Heard[] = []
  let rest = buffer
  for (const char of text) {
    const step = feed(codes, rest, char)
    rest = step.buffer
    heard.push(...step.heard)
  }
  return { buffer: rest, heard }
}

function startsSome(codes: ReadonlySet<string>, text: string): boolean {
  for (const code of codes) if (code.startsWith(text)) return true
  return false
}
