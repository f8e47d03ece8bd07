/**
 * What a data folder holds, looked at before anything is opened: a database is made only where
 * nothing is, and what is damaged, foreign or cannot be written is told with the way out, and left
 * as it is.
 */
import fs from 'node:fs'
import { join } from 'node:path'

/** Why a data folder cannot be used, in one sentence with the way out. */
export class StoreTrouble extends Error {}

/** What PostgreSQL cannot start without. */
const ESSENTIAL = [
  'PG_VERSION',
  'global/pg_control',
  'base',
  'pg_wal',
  'pg_xact',
  'postgresql.conf',
]

export const databaseOf = (folder: string) => join(folder, 'database')
export const backupsOf = (folder: string) => join(folder, 'backups')
/** A database is made here and moved to its place when it is whole. */
export const unfinishedOf = (folder: string) => join(folder, 'database.new')

/**
 * Makes the folder where it is missing, readable for its owner alone, and tries whether it can be
 * written.
 */
export function prepareFolder(folder: string): void {
  try {
    fs.mkdirSync(folder, { recursive: true, mode: 0o700 })
    const { uid, mode } = fs.statSync(folder)
    assertMine(uid, `The data folder ${folder}`)
    if (process.getuid && (mode & 0o077) !== 0) fs.chmodSync(folder, 0o700)
    const probe = join(folder, `.probe-${process.pid}`)
    try {
      fs.writeFileSync(probe, Buffer.alloc(8192, 1), { flush: true })
    } finally {
      fs.rmSync(probe, { force: true })
    }
  } catch (error) {
    throw troubleOf(folder, error)
  }
}

/**
 * `new` where nothing is yet, `there` where a database is that can be opened; else `StoreTrouble`.
 */
export function examineFolder(folder: string): 'new' | 'there' {
  const database = databaseOf(folder)
  try {
    if (!fs.existsSync(database) || fs.readdirSync(database).length === 0) return 'new'
    const missing = ESSENTIAL.filter(name => !fs.existsSync(join(database, name)))
    if (missing.length)
      throw new StoreTrouble(
        `The database in ${folder} is damaged: ${missing.join(', ')} ${missing.length === 1 ? 'is' : 'are'} missing. Nothing was touched. ${wayBack(folder)}`,
      )
    assertMine(fs.statSync(database).uid, `The database in ${folder}`)
    return 'there'
  } catch (error) {
    throw troubleOf(folder, error)
  }
}

function assertMine(uid: number, what: string): void {
  const me = process.getuid?.()
  if (me !== undefined && uid !== me)
    throw new StoreTrouble(
      `${what} belongs to another user (number ${uid}; this server runs as ${me}). Start as that user, or with a folder of your own: NOLVI_DATA=<folder>.`,
    )
}

/** What to do about a database that cannot be read. */
export function wayBack(folder: string): string {
  const newest = backups(folder)[0]
  return newest
    ? `The newest backup is ${newest}: NOLVI_RESTORE=${newest} npm start puts the damaged database aside and begins with it.`
    : 'There is no backup in it. Put the folder back from a copy of your own, or start with another one: NOLVI_DATA=<folder>.'
}

/** Paths of the backups in a data folder, the newest first. */
export function backups(folder: string): string[] {
  try {
    return fs
      .readdirSync(backupsOf(folder))
      .filter(name => /^nolvi-.*\.json\.gz$/.test(name))
      .sort()
      .reverse()
      .map(name => join(backupsOf(folder), name))
  } catch {
    return []
  }
}

const WORDS: Record<string, (folder: string) => string> = {
  EACCES: folder => `The data folder ${folder} may not be read and written by this user.`,
  EPERM: folder => `The data folder ${folder} may not be read and written by this user.`,
  EROFS: folder => `The data folder ${folder} lies on a disk that can only be read.`,
  ENOSPC: folder => `The disk of the data folder ${folder} is full.`,
  EDQUOT: folder => `This user's share of the disk of the data folder ${folder} is used up.`,
  ENOTDIR: folder => `The data folder ${folder} is a file, or lies in one.`,
  EEXIST: folder => `The data folder ${folder} is a file.`,
  EIO: folder => `The disk of the data folder ${folder} fails.`,
}

/** An error of the file system in words; what is said already stays. */
export function troubleOf(folder: string, error: unknown): Error {
  if (error instanceof StoreTrouble) return error
  const words = WORDS[(error as NodeJS.ErrnoException)?.code ?? '']
  return words
    ? new StoreTrouble(
        `${words(folder)} Nothing was touched. Mend that, or start with another folder: NOLVI_DATA=<folder>.`,
      )
    : (error as Error)
}
