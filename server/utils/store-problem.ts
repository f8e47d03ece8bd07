/**
 * Errors of the database that are no fault of the program, in words: a disk that is full or fails,
 * a file that is missing.
 */
import { DatabaseEnded } from '../db/client'
import { StoreTrouble } from '../db/folder'
import type { Problem } from '../../core/design/validate'

const FULL = {
  status: 507,
  title: 'The disk is full: nothing was stored',
  message: 'what was stored before stands; make room, then save again',
}
const FAILS = {
  status: 503,
  title: 'The disk of the data folder fails: nothing was stored',
  message:
    'what was acknowledged before is read again when the disk answers; look at the disk, and keep a backup elsewhere',
}
const MISSING = {
  status: 503,
  title: 'A part of the database cannot be read; nothing was touched',
  message:
    'designs that can be read are still there; end Nolvi and start it with NOLVI_RESTORE=<newest backup> to go back to that',
}

/** SQLSTATE, from PostgreSQL's appendix of error codes. */
const OF_CODE: Record<string, typeof FULL> = {
  '53100': FULL,
  '58030': FAILS,
  '58P01': MISSING,
  XX001: MISSING,
  XX002: MISSING,
}

export function storeProblem(
  error: unknown,
): { status: number; title: string; problems: Problem[] } | null {
  for (let at: unknown = error, depth = 0; at && depth < 5; at = (at as Error).cause, depth++) {
    if (at instanceof StoreTrouble)
      return {
        status: 503,
        title: 'The database cannot be used: nothing was stored',
        problems: [{ path: '', message: at.message }],
      }
    const known =
      at instanceof DatabaseEnded
        ? /No space left/.test(at.message)
          ? FULL
          : FAILS
        : OF_CODE[(at as { code?: string }).code ?? '']
    if (known)
      return {
        status: known.status,
        title: known.title,
        problems: [{ path: '', message: known.message }],
      }
  }
  return null
}
