/**
 * The message table of a link: what each code means, in both directions. One source for decoder,
 * sheet and pages.
 */
import { maybeMessage } from '../design/find'
import type { Design, Link, Load, Message, Scene } from '../design/schema'
import { NUMBER, numbersOf, reportWord, spokenValues } from '../design/values'
import { codeOf, filled, numberCode } from './setpoints'
import { TIMED } from '../design/outputs/timed'
import { bodyOf, endOf, speaksWords } from '../design/wire'
import { answerOf, reportAnswer } from './answers'
import { makerOf } from './dialects/makers'
import { speaksBytes, speaksRoutes } from '../design/links/traits'
import { speechOf } from './dialects/rows'

/**
 * `value`: a value of the load, or "toggle", "up", "down", "next". `body`: the code as it crosses
 * the wire, without its end.
 */
export interface CommandEntry {
  code: string
  body: string
  loadId: string
  value: string
}

/**
 * Commands in row order of the sheet, on before off, other values as they rise. Empty codes are
 * left out: nothing can say them.
 */
export function commands(design: Design, link: Link): CommandEntry[] {
  return rows(design, link)
    .flatMap(({ load, message }) =>
      askedBy(load, message).map(value => {
        const code = codeOf(link, load.output, message, value)
        return { code, body: bodyOf(link, code, 'command'), loadId: load.id, value }
      }),
    )
    .filter(e => e.code !== '')
}

/** What a message has codes for: every value, then what is relative, such as "toggle". */
export function askedBy(load: Load, message: Message): string[] {
  const values = spokenValues(load.output)
  return [...values, ...RELATIVE.filter(r => r in message.codes)]
}

/** Codes of a message as they go out; that for numbers with its longest. */
export function codesSaid(link: Link, load: Load, message: Message): string[] {
  const number = numberCode(message)
  return [
    ...askedBy(load, message).map(value => codeOf(link, load.output, message, value)),
    ...(number === '' ? [] : [filled(link, number, numbersOf(load.output)?.high ?? 0)]),
  ].filter(code => code !== '')
}

/** What a message has codes for as people read it: where a number says them, not each value. */
export function wishesShown(load: Load, message: Message): string[] {
  const wishes = askedBy(load, message)
  return numberCode(message) === ''
    ? wishes
    : [...wishes.filter(which => (message.codes[which] ?? '') !== ''), NUMBER]
}

/** Codes as people read them: that for numbers stands for what has none of its own. */
export function codesShown(load: Load, message: Message): string[] {
  const named = spokenValues(load.output).map(value => message.codes[value] ?? '')
  const number = numberCode(message)
  return number === '' ? named : [...named.filter(code => code !== ''), number]
}

/** What a code may ask for beside a value, in the order in which it is listed. */
export const RELATIVE: readonly string[] = ['toggle', 'up', 'down', 'next', ...TIMED]

/**
 * A report without its end: on serial links as the dialect has it; on HTTP `id=1` or `id=forward`
 * lines.
 */
export function reportBody(link: Link, load: Load, message: Message, value: string): string {
  return speaksBytes(link)
    ? bodyOf(link, codeOf(link, load.output, message, value), 'report')
    : `${load.id}=${reportWord(load.output, value)}`
}

/** As it is sent. */
export function reportText(link: Link, load: Load, message: Message, value: string): string {
  const body = reportBody(link, load, message, value)
  if (speaksRoutes(link)) return reportAnswer(link, body)
  return body === '' ? '' : body + endOf(link)
}

/**
 * An HTTP link keeps an event stream open when it reports anything unasked; replies are then for
 * the asker's eye only.
 */
export function streams(link: Link): boolean {
  return (
    speaksRoutes(link)
    && (link.onConnect || link.everyMs > 0 || (link.messages as Message[]).some(m => m.change))
  )
}

/** Codes of scenes on a link, in the order of the document. */
export function sceneCodes(
  design: Design,
  link: Link,
): { scene: Scene; code: string; body: string }[] {
  return design.scenes.flatMap(scene => {
    const code = link.scenes[scene.id] ?? ''
    return code === '' ? [] : [{ scene, code, body: bodyOf(link, code, 'command') }]
  })
}

/** How this program and its table name themselves. */
export const SPEAKS = 'nolvi/5'

/** What a sender says that has just started, as a code; "" where the link knows no such mark. */
export function restartCode(link: Link): string {
  return speaksBytes(link) ? link.restartMark : ''
}

/** The question who is there, as a code; "" where the link has none. */
export function helloCode(link: Link): string {
  return speaksBytes(link) ? link.helloCode : link.helloRoute
}

/**
 * The answer to who is there: version, fingerprint of the table, and how often the controller
 * started.
 */
export function helloText(link: Link, fingerprint: string, starts: number): string {
  if (!speaksBytes(link))
    return answerOf(link.answers, [
      `hello=${SPEAKS}`,
      `fingerprint=${fingerprint}`,
      `starts=${starts}`,
    ])
  const { here } = makerOf(link.dialect)
  return here(link.reportMark, SPEAKS, fingerprint, starts) + endOf(link)
}

/** The fingerprint within an answer to who is there; null in anything else. */
export function printIn(link: Link, text: string): string | null {
  const pattern = speaksRoutes(link)
    ? /fingerprint\b[^0-9A-F]{1,40}([0-9A-F]{6})\b/
    : /hello\W+nolvi\/\d+\W+(?:fingerprint\W+)?([0-9A-F]{6})\b/
  return pattern.exec(text)?.[1] ?? null
}

/** Who answered: version of the program, fingerprint of its table, how often it started. */
export interface Hello {
  speaks: string
  fingerprint: string
  starts: number
}

/** An answer to who is there, in whatever dialect; null in anything else. */
export function helloIn(link: Link, text: string): Hello | null {
  const pattern = speaksRoutes(link)
    ? /hello\W{1,40}(nolvi\/\d+)\b.*?fingerprint\b[^0-9A-F]{1,40}([0-9A-F]{6})\b.*?starts\D{1,40}(\d+)/s
    : /hello\W+(nolvi\/\d+)\W+(?:fingerprint\W+)?([0-9A-F]{6})\b(?:\W+starts)?\W+(\d+)/
  const [, speaks, fingerprint, starts] = pattern.exec(text) ?? []
  return speaks === undefined || fingerprint === undefined
    ? null
    : { speaks, fingerprint, starts: Number(starts) }
}

/** The answer to what is not understood; "" where the link has none. */
export function errorText(link: Link): string {
  if (!speaksBytes(link) || link.errorText === '' || !speaksWords(link)) return ''
  return speechOf(link).error(link.reportMark, link.errorText) + endOf(link)
}

/** Messages of a link in the order of the sheet's rows. */
export function rows(design: Design, link: Link): { load: Load; message: Message }[] {
  return design.loads.flatMap(load => {
    const message = maybeMessage(link, load.id)
    return message ? [{ load, message }] : []
  })
}
