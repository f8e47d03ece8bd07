/**
 * What browsers are told about every answer: nothing is fetched from elsewhere, nobody frames
 * Nolvi, types are not guessed, no address is passed on. Inline scripts run only when they are the
 * ones that were built (their hashes are listed); only workers may make code, for the proof writes
 * its transition table as a program.
 */
import { createHash } from 'node:crypto'

const COMMON = [
  "default-src 'self'",
  "base-uri 'none'",
  "object-src 'none'",
  "form-action 'self'",
  "frame-ancestors 'self'",
  "img-src 'self' data: blob:",
  "font-src 'self' data:",
  "style-src 'self' 'unsafe-inline'",
]

export const HEADERS: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'no-referrer',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'permissions-policy': 'camera=(), microphone=(), geolocation=(), payment=()',
}

/** Of pages of the editor. Panels on stand-ins are framed from other ports of this machine. */
export function pagePolicy(html: string): string {
  const hashes = [...html.matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g)].map(
    m =>
      `'sha256-${createHash('sha256')
        .update(m[1] ?? '')
        .digest('base64')}'`,
  )
  return [
    ...COMMON,
    `script-src 'self' ${hashes.join(' ')}`.trim(),
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "frame-src 'self' http: blob:",
  ].join('; ')
}

/** Of scripts that run as workers. */
export const WORKER_POLICY = "default-src 'self'; script-src 'self' 'unsafe-eval'"

/** Of the page in which a built page is looked at: it has no origin, and reaches nothing. */
export const PREVIEW_POLICY =
  "sandbox allow-scripts; default-src 'none'; script-src 'unsafe-inline'; style-src 'unsafe-inline'; img-src data:; font-src data:; media-src data:"
