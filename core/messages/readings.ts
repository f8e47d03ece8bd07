/**
 * Readings on a link: what stands on the wire for the value of a sensor, and back. On HTTP
 * sensor=value; in lines the code, a space and the value; code=value; {"code":value}; among codes
 * without ends the code, the value and a semicolon.
 */
import type { ByteLink, Link, LinkReading } from '../design/schema'
import { endOf } from '../design/wire'
import { answerOf } from './answers'

/** Ends a value where messages have no ends. */
const VALUE_END = ';'
/** Characters of the longest value. */
const VALUE_LENGTH = 16

/** Without its end. `text`: the value as `readingText` makes it. */
export function readingBody(link: Link, reading: LinkReading, text: string): string {
  if (link.kind === 'http') return `${reading.sensorId}=${text}`
  const code = 'code' in reading ? reading.code : ''
  switch (link.dialect.kind) {
    case 'codes':
      return link.reportMark + code + text + VALUE_END
    case 'lines':
      return `${link.reportMark}${code} ${text}`
    case 'pairs':
      return `${link.reportMark}${code}=${text}`
    case 'json':
      return `{"${code}":${isNumber(text) ? text : JSON.stringify(text)}}`
    case 'packed':
      return ''
  }
}

/** As it is sent unasked. */
export function readingWire(link: Link, reading: LinkReading, text: string): string {
  const body = readingBody(link, reading, text)
  if (link.kind === 'http') return answerOf(link.answers === 'json' ? 'json' : 'text', [body])
  return body === '' ? '' : body + endOf(link)
}

/** What starts a reading where messages have no ends. */
export function readingStarts(link: Link): string[] {
  return link.kind !== 'http' && link.dialect.kind === 'codes'
    ? link.readings.map(r => link.reportMark + r.code)
    : []
}

/** Characters of the longest reading, without its end; 0 without any. */
export function readingLength(link: Link): number {
  return link.readings.length
    ? Math.max(...link.readings.map(r => readingBody(link, r, '').length)) + VALUE_LENGTH
    : 0
}

/** The reading that a message is; null where it is none. */
export function readingIn(link: Link, body: string): { sensorId: string; text: string } | null {
  for (const reading of link.readings) {
    const text = valueIn(link, reading, body)
    if (text !== null && text.length <= VALUE_LENGTH) return { sensorId: reading.sensorId, text }
  }
  return null
}

function valueIn(link: Link, reading: LinkReading, body: string): string | null {
  if (link.kind === 'http') return behind(body, `${reading.sensorId}=`)
  return byteValue(link, 'code' in reading ? reading.code : '', body)
}

function byteValue(link: ByteLink, code: string, body: string): string | null {
  switch (link.dialect.kind) {
    case 'codes':
      return body.endsWith(VALUE_END) ? behind(body.slice(0, -1), link.reportMark + code) : null
    case 'lines':
      return behind(body, `${link.reportMark}${code} `)
    case 'pairs':
      return behind(body, `${link.reportMark}${code}=`)
    case 'json': {
      const value = behind(body, `{"${code}":`)
      return value?.endsWith('}') ? value.slice(0, -1).replaceAll('"', '') : null
    }
    case 'packed':
      return null
  }
}

function behind(text: string, start: string): string | null {
  return text.startsWith(start) ? text.slice(start.length) : null
}

function isNumber(text: string): boolean {
  return /^-?(0|[1-9]\d*)(\.\d+)?$/.test(text)
}

/**
 * Readings whose code begins another reading or a report of the link: the wire cannot tell them
 * apart.
 */
export function readingClashes(
  link: Link,
  reports: readonly string[],
): { sensorId: string; with: string }[] {
  const starts = readingStarts(link)
  return link.readings.flatMap((r, i) => {
    const start = starts[i]
    const other =
      start === undefined
        ? undefined
        : [...starts.filter((_, j) => j !== i), ...reports].find(
            o => o !== '' && (o.startsWith(start) || start.startsWith(o)),
          )
    return other === undefined ? [] : [{ sensorId: r.sensorId, with: other }]
  })
}
