/**
 * Templates of text lines: literal text with escapes, and the two places {load} and {value}. A
 * template is sound when every line that it makes is read back as what it was made from.
 */
export type Part = { kind: 'text'; text: string } | { kind: 'place'; name: 'load' | 'value' }
export type Parsed = { ok: true; parts: Part[] } | { ok: false; at: number; message: string }

const ESCAPES: Record<string, string> = {
  n: '\n',
  r: '\r',
  t: '\t',
  '0': '\0',
  '\\': '\\',
  '{': '{',
  '}': '}',
}

/** Reads a template; a mistake names its place (characters from 0). */
export function parseTemplate(template: string): Parsed {
  const parts: Part[] = []
  let text = ''
  const flush = () => {
    if (text) parts.push({ kind: 'text', text })
    text = ''
  }
  for (let i = 0; i < template.length; i++) {
    const char = template[i] as string
    if (char === '\\') {
      const hex = /^x([0-9A-Fa-f]{2})/.exec(template.slice(i + 1))
      const next = template[i + 1] ?? ''
      if (hex) {
        text += String.fromCharCode(parseInt(hex[1] as string, 16))
        i += 3
      } else if (next in ESCAPES) {
        text += ESCAPES[next]
        i++
      } else
        return {
          ok: false,
          at: i,
          message: `"\\${next}" is no escape; there are \\n \\r \\t \\0 \\\\ \\{ \\} and \\x41`,
        }
    } else if (char === '{') {
      const place = /^\{(load|value)\}/.exec(template.slice(i))
      if (!place)
        return {
          ok: false,
          at: i,
          message: 'a place is {load} or {value}; a plain brace is written \\{',
        }
      flush()
      parts.push({ kind: 'place', name: place[1] as 'load' | 'value' })
      i += (place[0] as string).length - 1
    } else if (char === '}') return { ok: false, at: i, message: 'a plain brace is written \\}' }
    else text += char
  }
  flush()
  for (const name of ['load', 'value'] as const) {
    const times = parts.filter(p => p.kind === 'place' && p.name === name).length
    if (times !== 1)
      return {
        ok: false,
        at: 0,
        message: `{${name}} belongs into it once; it is there ${times} times`,
      }
  }
  return { ok: true, parts }
}

/** A template with its load and value filled in. */
export function fill(parts: readonly Part[], values: { load: string; value: string }): string {
  return parts.map(p => (p.kind === 'text' ? p.text : values[p.name])).join('')
}

/** All readings of a line as load and value out of the words there are. */
export function readings(
  parts: readonly Part[],
  words: ReadonlyMap<string, readonly string[]>,
  line: string,
): { load: string; value: string }[] {
  return [...words].flatMap(([load, values]) =>
    values.filter(value => fill(parts, { load, value }) === line).map(value => ({ load, value })),
  )
}

/** A line that can be read in two ways, or null. `words`: the values of each load. */
export function unsound(
  parts: readonly Part[],
  words: ReadonlyMap<string, readonly string[]>,
): { line: string; readings: { load: string; value: string }[] } | null {
  const seen = new Map<string, { load: string; value: string }>()
  for (const [load, values] of words) {
    for (const value of values) {
      const line = fill(parts, { load, value })
      const first = seen.get(line)
      if (first) return { line, readings: [first, { load, value }] }
      seen.set(line, { load, value })
    }
  }
  return null
}

/** A text with what cannot be seen written as escapes; the reverse of reading a literal. */
export function visible(text: string): string {
  const names: Record<string, string> = {
    '\n': '\\n',
    '\r': '\\r',
    '\t': '\\t',
    '\0': '\\0',
    '\\': '\\\\',
  }
  return [...text]
    .map(
      c =>
        names[c]
        ?? (c < ' ' || c === '\u007F'
          ? `\\x${c.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`
          : c),
    )
    .join('')
}

/** What `visible` wrote, read again; `ok` false with the place of a strange escape. */
export function literal(
  text: string,
): { ok: true; text: string } | { ok: false; at: number; message: string } {
  let out = ''
  for (let i = 0; i < text.length; i++) {
    const char = text[i] as string
    if (char !== '\\') {
      out += char
      continue
    }
    const hex = /^x([0-9A-Fa-f]{2})/.exec(text.slice(i + 1))
    const next = text[i + 1] ?? ''
    if (hex) {
      out += String.fromCharCode(parseInt(hex[1] as string, 16))
      i += 3
    } else if (next in ESCAPES && next !== '{' && next !== '}') {
      out += ESCAPES[next]
      i++
    } else
      return {
        ok: false,
        at: i,
        message: `"\\${next}" is no escape; there are \\n \\r \\t \\0 \\\\ and \\x41`,
      }
  }
  return { ok: true, text: out }
}
