/** Every error of the server interface leaves as application/problem+json (RFC 9457). */
import { defineNitroErrorHandler } from 'nitropack/runtime'
import { send, setResponseHeader, setResponseStatus } from 'h3'
import type { ProblemData } from './utils/problem'

export default defineNitroErrorHandler((error, event) => {
  const status = error.statusCode || 500
  const data = (error.data ?? {}) as Partial<ProblemData>
  // A fault of our own is told in the log; the answer does not show inner workings.
  if (status >= 500) console.error(error)
  const title = status >= 500 ? 'Something went wrong inside Nolvi; nothing was stored' : error.statusMessage || error.message
  setResponseStatus(event, status)
  setResponseHeader(event, 'content-type', 'application/problem+json')
  return send(event, JSON.stringify({ type: 'about:blank', title, status, problems: data.problems ?? [], ...data.extra }))
})
