/**
 * Decoding messages in a byte stream. Codes without ends follow one another: a code acts at its
 * last byte, so the shortest that matches wins, which is why a code that starts with another is
 * never understood. Messages with an end are looked up whole when it comes; whatever else came
 * before it is given up, so one wrong byte costs at most one message.
 */
import type { Link, Message } from '../design/schema'
import { bodyOf, endOf } from '../design/wire'
import { numberCode } from './setpoints'
import { NUMBER_LENGTH } from './numbers'
import { readingLength, readingStarts } from './readings'
import { signatureBytes } from './sealing'
import { startsTimers, TIME_LENGTH } from './times'
import type { Sized } from '../design/dialects/facet'
import { wireRow } from '../design/dialects/rows'
import { speaksBytes } from '../design/links/traits'

export interface Reader {
  /** "" where codes follow one another. */
  end: string
  bodies: ReadonlySet<string>
  /** Characters of the longest body; more than that is not kept. */
  longest: number
  /** What starts a value that ends with a semicolon, where codes follow one another. */
  starts: readonly string[]
  /** Messages with a number that nothing ends. */
  sized: readonly Sized[]
  /** Spaces outside quotes do not matter. */
  looseSpaces: boolean
}

/** What a decoder needs to know the messages of a link. */
export function readerOf(link: Link, bodies: Iterable<string>): Reader {
  const set = new Set(bodies)
  let longest = 0
  for (const body of set) longest = Math.max(longest, body.length)
  longest = Math.max(longest, readingLength(link), numbersLength(link))
  // A proof makes commands longer than their codes.
  return {
    end: endOf(link),
    bodies: set,
    starts: readingStarts(link),
    sized: sizedOn(link),
    longest:
      longest
      + signatureBytes(link)
      + (startsTimers(link) ? TIME_LENGTH : 0)
      + (link.numbered ? NUMBER_LENGTH : 0),
    looseSpaces: speaksBytes(link) && wireRow(link.dialect).looseSpaces,
  }
}

function sizedOn(link: Link): Sized[] {
  if (!speaksBytes(link)) return []
  const { dialect } = link
  return (link.messages as Message[]).flatMap(m =>
    (['command', 'report'] as const).flatMap(direction => {
      const place = bodyOf(link, numberCode(m), direction)
      return (place !== '' && wireRow(dialect).sized(dialect, place)) || []
    }),
  )
}

/**
 * The longest body with a number in its place, which takes no more characters than the place; a
 * stuffed frame may grow by its four bytes, and by those of its check.
 */
function numbersLength(link: Link): number {
  if (!speaksBytes(link)) return 0
  const bodies = (link.messages as Message[]).map(m =>
    Math.max(...(['command', 'report'] as const).map(d => bodyOf(link, numberCode(m), d).length)),
  )
  const longest = Math.max(0, ...bodies)
  return longest === 0 ? 0 : longest + 4 + wireRow(link.dialect).checks(link.dialect)
}

export type Heard = { kind: 'code'; code: string } | { kind: 'unknown'; bytes: string }

export interface StreamStep {
  buffer: string
  heard: Heard[]
}

/** Feed one character. */
export function feed(reader: Reader, buffer: string, char: string): StreamStep {
  return reader.end === '' ? feedCodes(reader, buffer, char) : feedEnded(reader, buffer, char)
}

function feedEnded(reader: Reader, buffer: string, char: string): StreamStep {
  if (reader.looseSpaces && (char === ' ' || char === '\t') && (buffer.split('"').length & 1) === 1)
    return { buffer, heard: [] }
  const grown = buffer + char
  if (grown.endsWith(reader.end)) {
    const body = grown.slice(0, -reader.end.length)
    return {
      buffer: '',
      heard:
        body === ''
          ? []
          : [
              reader.bodies.has(body)
                ? { kind: 'code', code: body }
                : { kind: 'unknown', bytes: body },
            ],
    }
  }
  const most = reader.longest + reader.end.length
  // Longer than any message: only its last character is kept up to date, for an end of two
  // characters.
  return { buffer: grown.length > most ? grown.slice(0, most - 1) + char : grown, heard: [] }
}

/**
 * Feed one character. When the buffer can no longer become a code, its first characters are given
 * up and the last one is tried again as a start: one wrong byte costs at most one code. A value is
 * heard as what it is, for `readingIn` to read.
 */
function feedCodes(reader: Reader, buffer: string, char: string): StreamStep {
  const codes = reader.bodies
  const grown = buffer + char
  const value = reader.starts.some(s => grown.startsWith(s) && grown.length > s.length)
  if (value && char === ';') return { buffer: '', heard: [{ kind: 'unknown', bytes: grown }] }
  if (value && grown.length < reader.longest && /[\w.,-]/.test(char))
    return { buffer: grown, heard: [] }
  if (codes.has(grown)) return { buffer: '', heard: [{ kind: 'code', code: grown }] }
  // A message with a number is whole by its length; what it says is for its dialect to read.
  for (const { head, length } of reader.sized)
    if (grown.length > head.length && grown.startsWith(head))
      return grown.length < length
        ? { buffer: grown, heard: [] }
        : { buffer: '', heard: [{ kind: 'unknown', bytes: grown }] }
  if (reader.sized.some(({ head }) => head.startsWith(grown))) return { buffer: grown, heard: [] }
  if (startsSome(codes, grown) || startsSome(reader.starts, grown))
    return { buffer: grown, heard: [] }
  if (buffer === '') return { buffer: '', heard: [{ kind: 'unknown', bytes: char }] }
  const again = feedCodes(reader, '', char)
  return { buffer: again.buffer, heard: [{ kind: 'unknown', bytes: buffer }, ...again.heard] }
}

/** Feed a text; returns all that was heard and what is left half-read. */
export function feedAll(reader: Reader, buffer: string, text: string): StreamStep {
  const heard: Heard[] = []
  let rest = buffer
  for (const char of text) {
    const step = feed(reader, rest, char)
    rest = step.buffer
    heard.push(...step.heard)
  }
  return { buffer: rest, heard }
}

function startsSome(codes: Iterable<string>, text: string): boolean {
  for (const code of codes) if (code.startsWith(text)) return true
  return false
}
