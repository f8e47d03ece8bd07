/** Every error of the server interface leaves as application/problem+json (RFC 9457). */
import { defineNitroErrorHandler } from 'nitropack/runtime'
import { send, setResponseHeader, setResponseStatus } from 'h3'
import { Unreadable } from './db/designs'
import { pagePolicy } from './guard/headers'
import { MOST_PROBLEMS, type ProblemData } from './utils/problem'
import { storeProblem } from './utils/store-problem'

const MOST_TEXT = 400

export default defineNitroErrorHandler((error, event) => {
  const status = error.statusCode || 500
  const { page } = (error.data ?? {}) as { page?: string }
  if (page !== undefined) {
    setResponseStatus(event, status)
    setResponseHeader(event, 'content-type', 'text/html; charset=utf-8')
    setResponseHeader(event, 'content-security-policy', pagePolicy(page))
    setResponseHeader(event, 'cache-control', 'no-store')
    return send(event, page)
  }
  const cause: unknown = error.cause ?? error
  const stored = status >= 500 ? storeProblem(cause) : null
  const unreadable = status >= 500 && cause instanceof Unreadable ? cause : null
  const answer =
    stored
    ?? (unreadable
      ? {
          status: 422,
          title: 'What is stored cannot be read as a design by this Nolvi; it stays as it is',
          problems: [
            {
              path: '',
              message: `${unreadable.message}. /raw behind the address of the design gives the document as it is stored.`,
            },
          ],
        }
      : {
          status,
          title:
            status >= 500
              ? 'Something went wrong inside Nolvi; nothing was stored'
              : error.message || error.statusMessage || 'Refused',
          problems: ((error.data ?? {}) as Partial<ProblemData>).problems ?? [],
        })
  // A fault of our own is told in the log; the answer does not show inner workings, and the log no
  // values.
  if (answer.status >= 500)
    console.error(
      withoutValues(error.stack ?? String(error)),
      stored ? '' : withoutValues((cause as Error | undefined)?.stack ?? ''),
    )
  setResponseStatus(event, answer.status)
  setResponseHeader(event, 'content-type', 'application/problem+json')
  const problems = answer.problems
    .slice(0, MOST_PROBLEMS)
    .map(p => ({ ...p, path: short(p.path), message: short(p.message) }))
  return send(
    event,
    JSON.stringify({
      type: 'about:blank',
      title: short(answer.title),
      status: answer.status,
      problems,
      ...((error.data ?? {}) as Partial<ProblemData>).extra,
    }),
  )
})

function short(text: string): string {
  return text.length > MOST_TEXT ? `${text.slice(0, MOST_TEXT)} ...` : text
}

/** What is stored (secrets among it) stands as parameters in errors of the database. */
function withoutValues(text: string): string {
  return text.replaceAll(/^params: .*$/gm, 'params: (not shown)')
}
