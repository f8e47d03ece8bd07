/**
 * What an answer over HTTP holds: reports as lines of load=value, as a JSON object, or as a page
 * for people; and reading it back.
 */
import type { HttpLink } from '../design/schema'

/** Media type of each. */
export const ANSWER_TYPES: Record<HttpLink['answers'], string> = {
  text: 'text/plain',
  json: 'application/json',
  page: 'text/html',
}

/** `lines`: "fan=1". */
export function answerOf(answers: HttpLink['answers'], lines: readonly string[]): string {
  const pairs = lines.map(
    line => [line.slice(0, line.indexOf('=')), line.slice(line.indexOf('=') + 1)] as const,
  )
  switch (answers) {
    case 'text':
      return lines.join('\n')
    // Written out, so that a number stays the number it is.
    case 'json':
      return `{${pairs.map(([id, value]) => `"${id}":${/^(0|[1-9]\d*)$/.test(value) ? value : `"${value}"`}`).join(',')}}`
    case 'page':
      return `<!doctype html><title>State</title>${pairs.map(([id, value]) => `<p>${id}: <b id="${id}">${value}</b></p>`).join('')}`
  }
}

/** A report as it is told unasked: nobody reads pages there. */
export function reportAnswer({ answers }: Pick<HttpLink, 'answers'>, body: string): string {
  return answerOf(answers === 'json' ? 'json' : 'text', [body])
}

/** The lines of an answer; none of one that is no such answer. */
export function linesIn(answers: HttpLink['answers'], text: string): string[] {
  if (answers === 'text') return text.split('\n')
  if (answers === 'page')
    return [...text.matchAll(/<b id="([a-z][a-z0-9-]*)">([^<]*)<\/b>/g)].map(m => `${m[1]}=${m[2]}`)
  try {
    const value: unknown = JSON.parse(text)
    return typeof value === 'object' && value !== null
      ? Object.entries(value).map(([id, v]) => `${id}=${String(v)}`)
      : []
  } catch {
    return []
  }
}

/** What is answered where there is nothing to report. */
export function doneAnswer(answers: HttpLink['answers']): string {
  return answers === 'text' ? 'ok' : answerOf(answers, [])
}
