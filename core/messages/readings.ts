/**
 * Readings on a link: what stands on the wire for the value of a sensor, and back. On HTTP
 * sensor=value; in lines the code, a space and the value; code=value; {"code":value}; among codes
 * without ends the code, the value and a semicolon.
 */
import { speaksRoutes } from '../design/links/traits'
import type { Link, LinkReading } from '../design/schema'
import { endOf, hasBareCodes } from '../design/wire'
import { reportAnswer } from './answers'
import { markOf, speechOf } from './dialects/rows'

/** Characters of the longest value. */
const VALUE_LENGTH = 16

/** Without its end. `text`: the value as `readingText` makes it. */
export function readingBody(link: Link, reading: LinkReading, text: string): string {
  return speechOf(link).reading(markOf(link), codeOf(reading), text)
}

function codeOf(reading: LinkReading): string {
  return 'code' in reading ? reading.code : reading.sensorId
}

/** As it is sent unasked. */
export function readingWire(link: Link, reading: LinkReading, text: string): string {
  const body = readingBody(link, reading, text)
  if (speaksRoutes(link)) return reportAnswer(link, body)
  return body === '' ? '' : body + endOf(link)
}

/** What starts a reading where messages have no ends. */
export function readingStarts(link: Link): string[] {
  return hasBareCodes(link) ? link.readings.map(r => markOf(link) + codeOf(r)) : []
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
  return speechOf(link).value(markOf(link), codeOf(reading), body)
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
