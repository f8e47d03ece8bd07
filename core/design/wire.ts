/**
 * From the codes of the table to what crosses the wire, and back. On serial links a text holds one
 * character a byte (0 to 255); UTF-8 is bytes by then. A *body* is a message without its end; codes
 * without ends follow one another.
 */
import type { DialectProblem, Direction } from './dialects/facet'
import { dialectRow, wireRow } from './dialects/rows'
import { parameterTrouble } from './links/parameters'
import { speaksBytes } from './links/traits'
import type { ByteLink, Design, Link } from './schema'

/**
 * What ends each message of a link; "" where codes or frames of known length follow one another,
 * and where routes come whole.
 */
export function endOf(link: Link): string {
  return speaksBytes(link) ? wireRow(link.dialect).end(link.dialect) : ''
}

/**
 * Whether people can read its messages and each has an end: only then is there room for "who is
 * there" and errors.
 */
export function speaksWords(link: ByteLink): boolean {
  return wireRow(link.dialect).readable
}

/** Codes that follow one another without ends. */
export function hasBareCodes(link: Link): boolean {
  return speaksBytes(link) && wireRow(link.dialect).bare
}

/** The body of a code. An empty code has none. */
export function bodyOf(link: Link, code: string, direction: Direction): string {
  if (!speaksBytes(link)) return code
  return wireRow(link.dialect).body(link.dialect, code, direction, link.reportMark)
}

/** The code as a sender says it that has just started; "" where nothing tells a start with it. */
export function startedCode(link: Link, code: string): string {
  return speaksBytes(link) ? wireRow(link.dialect).started(link.dialect, code) : ''
}

/** The body with its end. */
export function wireOf(link: Link, code: string, direction: Direction): string {
  const body = bodyOf(link, code, direction)
  return body === '' ? '' : body + endOf(link)
}

/** A message without its end; a text of several messages as it is. */
export function bodyIn(link: Link, text: string): string {
  const end = endOf(link)
  return end !== '' && text.endsWith(end) ? text.slice(0, -end.length) : text
}

/**
 * A text of the wire as people read it: escapes for what cannot be seen, bytes of structures in
 * hexadecimal.
 */
export function shownWire(link: Link, text: string): string {
  return speaksBytes(link) ? dialectRow(link.dialect).shown(text) : text
}

/** What is wrong with a code of a dialect, or "". */
export function codeTrouble(link: Link, code: string): string {
  if (!speaksBytes(link)) return parameterTrouble(code)
  if (code === '') return ''
  return dialectRow(link.dialect).trouble(link.dialect, code)
}

/**
 * What is wrong with the dialect of a link and what belongs to it: place within the link, and
 * words.
 */
export function dialectProblems(design: Design, link: ByteLink): DialectProblem[] {
  const found: DialectProblem[] = []
  const code = (key: string, text: string) => {
    const trouble = codeTrouble(link, text)
    if (trouble) found.push([key.split(' '), trouble])
  }
  code('askCode', link.askCode)
  for (const key of ['helloCode', 'errorText'] as const)
    if (link[key] !== '' && !speaksWords(link))
      found.push([
        [key],
        'this dialect has no room for it; lines of text, load=value and JSON have',
      ])
  if (speaksWords(link)) code('helloCode', link.helloCode)
  for (const [sceneId, text] of Object.entries(link.scenes)) code(`scenes ${sceneId}`, text)
  return [...found, ...dialectRow(link.dialect).problems(link.dialect, link, design)]
}
