/**
 * Calls to Nolvi's own server. A refusal comes back as a value; only a lost connection is an
 * exception of its own.
 */
import type { Problem } from '../../core/design/validate'

export interface Refusal {
  status: number
  title: string
  problems: Problem[]
  revision?: number
}
export type Answer<T> = { ok: true; value: T } | { ok: false; refusal: Refusal }

export async function ask<T>(
  path: string,
  options: { method?: 'GET' | 'POST' | 'PUT' | 'DELETE'; body?: unknown } = {},
): Promise<Answer<T>> {
  const { method = 'GET', body } = options
  let response: Response
  const text = body === undefined ? null : JSON.stringify(body)
  try {
    // A save on its way goes on when the page is closed; browsers carry up to 64 kB so.
    response = await fetch(path, {
      method,
      ...(text === null
        ? {}
        : {
            body: text,
            headers: { 'content-type': 'application/json' },
            keepalive: text.length < KEPT_ALIVE_BYTES,
          }),
    })
  } catch {
    return { ok: false, refusal: SILENT }
  }
  return answered<T>(response)
}

/** A file as it is. */
export async function sendFile<T>(path: string, file: Blob, type: string): Promise<Answer<T>> {
  const response = await fetch(path, {
    method: 'POST',
    body: file,
    headers: { 'content-type': type },
  }).catch(() => null)
  return response ? answered<T>(response) : { ok: false, refusal: SILENT }
}

async function answered<T>(response: Response): Promise<Answer<T>> {
  if (response.status === 204) return { ok: true, value: undefined as T }
  const value: unknown = await response.json().catch(() => ({}))
  return response.ok
    ? { ok: true, value: value as T }
    : { ok: false, refusal: asRefusal(response.status, value) }
}

const SILENT: Refusal = {
  status: 0,
  title: "Nolvi's server does not answer",
  problems: [
    {
      path: '',
      message:
        'Is it still running? What you change stays here and is saved when it answers again.',
    },
  ],
}

const KEPT_ALIVE_BYTES = 60_000

/** First line for a person: title, and the first problem with its place. */
export function refusalWords(refusal: Refusal): string {
  const [first] = refusal.problems
  return first
    ? `${refusal.title}: ${first.path ? `${first.path} ` : ''}${first.message}`
    : refusal.title
}

function asRefusal(status: number, value: unknown): Refusal {
  const { title, problems, revision } = (value ?? {}) as Partial<Refusal>
  return {
    status,
    title: title ?? `The server answered ${status}`,
    problems: problems ?? [],
    ...(revision === undefined ? {} : { revision }),
  }
}
