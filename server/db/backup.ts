/**
 * Everything in one file: gzipped lines of JSON, first what it is, then a row a line, last how many
 * there were and the SHA-256 of all before it. A backup counts only when it was read back whole.
 * Secrets of links are in it as they are kept, sealed: they open where the key file is.
 */
import { createHash, randomUUID } from 'node:crypto'
import fs from 'node:fs'
import { createInterface } from 'node:readline'
import { createGunzip, createGzip } from 'node:zlib'
import { once } from 'node:events'
import { join } from 'node:path'
import { asc, gt, sql } from 'drizzle-orm'
import { z } from 'zod'
import { DESIGN_VERSION } from '../../core/design/schema'
import type { Database } from './database'
import { flush } from './durable-fs'
import { backups, backupsOf } from './folder'
import { designs, records, revisions, secrets } from './schema'

const FORMAT = 'nolvi-backup'
const VERSION = 1
/** Rows that are held at once. */
const PAGE = 50
const MOST_LINE = 20_000_000

/** Why a backup is not taken, with the line it is about. */
export class BadBackup extends Error {}

const when = z.coerce.date()
const document = z.looseObject({ version: z.number().int() })
const rowSchemas = {
  designs: z.strictObject({
    id: z.string(),
    name: z.string(),
    place: z.string(),
    revision: z.number().int().min(1),
    document,
    updatedAt: when,
    deletedAt: when.nullable(),
  }),
  revisions: z.strictObject({
    designId: z.string(),
    number: z.number().int().min(1),
    words: z.string(),
    document,
    createdAt: when,
  }),
  secrets: z.strictObject({
    designId: z.string(),
    linkId: z.string(),
    value: z.string(),
    sealed: z.boolean(),
    setAt: when,
  }),
  records: z.strictObject({
    id: z.number().int().min(1),
    designId: z.string(),
    revision: z.number().int(),
    kind: z.string(),
    title: z.string(),
    passed: z.number().int(),
    of: z.number().int(),
    body: z.unknown(),
    createdAt: when,
  }),
}
type Table = keyof typeof rowSchemas
const TABLES = Object.keys(rowSchemas) as Table[]
export type Counts = Record<Table, number>
export interface Backup {
  path: string
  at: string
  keyId: string
  counts: Counts
  bytes: number
}

const headSchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.number().int().min(1),
  at: z.iso.datetime(),
  keyId: z.string(),
})
const endSchema = z.strictObject({
  counts: z.record(z.enum(TABLES as [Table, ...Table[]]), z.number().int().min(0)),
  sha256: z.string(),
})

/** Rows of a table in pages, in an order that does not change under it. */
async function* pages(db: Database, table: Table): AsyncGenerator<unknown[]> {
  if (table === 'records') {
    for (let last = 0; ;) {
      const rows = await db
        .select()
        .from(records)
        .where(gt(records.id, last))
        .orderBy(asc(records.id))
        .limit(PAGE)
      if (!rows.length) return
      yield rows
      last = rows.at(-1)?.id ?? last
    }
  }
  const [from, order] =
    table === 'designs'
      ? ([designs, [designs.id]] as const)
      : table === 'secrets'
        ? ([secrets, [secrets.designId, secrets.linkId]] as const)
        : ([revisions, [revisions.designId, revisions.number]] as const)
  for (let at = 0; ; at += PAGE) {
    const rows = await db
      .select()
      .from(from as typeof designs)
      .orderBy(...(order as never as [typeof designs.id]))
      .limit(PAGE)
      .offset(at)
    if (!rows.length) return
    yield rows
  }
}

/**
 * Writes everything to `path`, reads it back, and answers with what is in it. A file that is not
 * whole never has that name.
 */
export async function writeBackup(db: Database, keyId: string, path: string): Promise<Backup> {
  // Several may be made at once.
  const beside = `${path}.${randomUUID()}.new`
  const hash = createHash('sha256')
  const zip = createGzip()
  const file = fs.createWriteStream(beside, { mode: 0o600 })
  const failed = new Promise<never>((_, reject) => {
    file.once('error', reject)
    zip.once('error', reject)
  })
  failed.catch(() => undefined)
  zip.pipe(file)
  const line = async (value: unknown, counted = true) => {
    const text = `${JSON.stringify(value)}\n`
    if (counted) hash.update(text)
    if (!zip.write(text)) await Promise.race([once(zip, 'drain'), failed])
  }
  const counts: Counts = { designs: 0, revisions: 0, secrets: 0, records: 0 }
  // Others go on saving meanwhile: what belongs to a later state of a design than the one written
  // is left to the next backup.
  const revisionOf = new Map<string, number>()
  const belongs = (
    table: Table,
    row: { id?: string; designId?: string; revision?: number; number?: number },
  ) => {
    if (table === 'designs') revisionOf.set(row.id ?? '', row.revision ?? 0)
    const revision = revisionOf.get((table === 'designs' ? row.id : row.designId) ?? '')
    return revision !== undefined && (table !== 'revisions' || (row.number ?? 0) <= revision)
  }
  try {
    await line({ format: FORMAT, version: VERSION, at: new Date().toISOString(), keyId })
    for (const table of TABLES) {
      for await (const rows of pages(db, table)) {
        for (const row of rows) {
          if (!belongs(table, row as never)) continue
          await line({ [table]: row })
          counts[table]++
        }
      }
    }
    await line({ counts, sha256: hash.digest('hex') }, false)
    zip.end()
    await Promise.race([once(file, 'close'), failed])
    flush(beside)
    const read = await readBackup(beside)
    fs.renameSync(beside, path)
    flush(join(path, '..'))
    return { ...read, path }
  } catch (error) {
    file.destroy()
    fs.rmSync(beside, { force: true })
    throw error
  }
}

/**
 * Reads a backup from the first line to the last and throws `BadBackup` where it is not one, is
 * cut, was changed, or is of a newer Nolvi. `each` gets every row.
 */
export async function readBackup(
  path: string,
  each: (table: Table, row: never) => Promise<void> | void = () => undefined,
): Promise<Backup> {
  const hash = createHash('sha256')
  const counts: Counts = { designs: 0, revisions: 0, secrets: 0, records: 0 }
  const known = new Set<string>()
  let head: z.infer<typeof headSchema> | null = null
  let end: z.infer<typeof endSchema> | null = null
  let number = 0
  const source = fs.createReadStream(path)
  const unzip = source.pipe(createGunzip())
  const lines = createInterface({ input: unzip, crlfDelay: Infinity })
  // Lines end with their source, and do not tell why.
  let failure: NodeJS.ErrnoException | null = null
  const fails = (error: NodeJS.ErrnoException) => {
    failure ??= error
    lines.close()
  }
  source.on('error', fails)
  unzip.on('error', fails)
  try {
    for await (const text of lines) {
      number++
      const bad = (why: string) => new BadBackup(`line ${number}: ${why}`)
      if (end) throw bad('something follows the last line')
      if (text.length > MOST_LINE) throw bad('it is too long')
      let value: Record<string, unknown>
      try {
        value = JSON.parse(text) as Record<string, unknown>
      } catch {
        throw bad('it is not JSON')
      }
      if (!head) {
        const parsed = headSchema.safeParse(value)
        if (!parsed.success) throw bad('this is not a backup of Nolvi')
        if (parsed.data.version > VERSION)
          throw bad(
            `it was made by a newer Nolvi (version ${parsed.data.version} of backups; this one reads up to ${VERSION})`,
          )
        head = parsed.data
      } else if (typeof value === 'object' && value !== null && 'sha256' in value) {
        const parsed = endSchema.safeParse(value)
        if (!parsed.success) throw bad('it does not say what was written')
        if (
          parsed.data.sha256 !== hash.digest('hex')
          || TABLES.some(t => parsed.data.counts[t] !== counts[t])
        )
          throw bad('what was written is not what is here: the file was changed')
        end = parsed.data
        continue
      } else {
        const table = TABLES.find(t => typeof value === 'object' && value !== null && t in value)
        if (!table) throw bad('this is no row of a backup')
        const row = rowSchemas[table].safeParse(value[table])
        if (!row.success)
          throw bad(
            `this is no row of ${table}: ${row.error.issues[0]?.path.join('/') ?? ''} ${row.error.issues[0]?.message ?? ''}`,
          )
        const { designId, document: stored } = row.data as {
          designId?: string
          document?: { version: number }
        }
        if (stored && stored.version > DESIGN_VERSION)
          throw bad(
            `a design of version ${stored.version} was made by a newer Nolvi; this one reads up to ${DESIGN_VERSION}`,
          )
        if (table === 'designs') known.add((row.data as { id: string }).id)
        else if (designId !== undefined && !known.has(designId))
          throw bad(`it belongs to a design "${designId}" that is not in the backup`)
        counts[table]++
        await each(table, row.data as never)
      }
      hash.update(`${text}\n`)
    }
  } catch (error) {
    // What cannot be unzipped may look like a bad line first.
    if (error instanceof BadBackup ? !failure : (error as NodeJS.ErrnoException).code === undefined)
      throw error
    failure ??= error as NodeJS.ErrnoException
  } finally {
    source.destroy()
    unzip.destroy()
  }
  const broken = failure as NodeJS.ErrnoException | null
  if (broken)
    throw new BadBackup(
      broken.code === 'ENOENT'
        ? `there is no file ${path}`
        : `after line ${Math.max(0, number - 1)} it cannot be read: ${broken.message}`,
    )
  if (!head || !end) throw new BadBackup('it ends too early: the file was cut')
  return { path, at: head.at, keyId: head.keyId, counts, bytes: fs.statSync(path).size }
}

const TABLE_OF = { designs, revisions, secrets, records }

/**
 * Puts a backup in the place of everything. It is read through first; then all of it is taken, or
 * nothing.
 */
export async function restoreBackup(db: Database, path: string): Promise<Backup> {
  await readBackup(path)
  return db.transaction(async tx => {
    await tx.delete(designs)
    const read = await readBackup(path, async (table, row) => {
      await tx.insert(TABLE_OF[table]).values(row)
    })
    await tx.execute(
      sql`select setval(pg_get_serial_sequence('records', 'id'), greatest(1, (select coalesce(max(id), 1) from records)))`,
    )
    return read
  })
}

/** A moment to the second, UTC, for the name of a file: names sort by time. */
export function stamp(now: Date): string {
  return now.toISOString().slice(0, 19).replaceAll(':', '-')
}

/** A name by which backups sort by time. */
export function backupPath(folder: string, what = '', now = new Date()): string {
  fs.mkdirSync(backupsOf(folder), { recursive: true, mode: 0o700 })
  return join(backupsOf(folder), `nolvi-${stamp(now)}${what && `-${what}`}.json.gz`)
}

const timeOf = (path: string) =>
  new Date(
    /nolvi-(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)/
      .exec(path)
      ?.slice(1)
      .join(' ')
      .replace(/ (\d\d) (\d\d) (\d\d)$/, 'T$1:$2:$3Z') ?? 0,
  )

/**
 * A backup is due when the newest is a day old; at night it is due a little earlier, so that it
 * comes to be made at night.
 */
export function backupDue(folder: string, now = new Date()): boolean {
  const [newest] = backups(folder)
  const hours = newest ? (now.getTime() - timeOf(newest).getTime()) / 3_600_000 : Infinity
  return hours >= 30 || (hours >= 18 && now.getHours() >= 2 && now.getHours() < 5)
}

/** Of the backups, those of the last week stay, and of each month the last. */
export function pruneBackups(folder: string, now = new Date()): void {
  const months = new Set<string>()
  backups(folder).forEach((path, i) => {
    const month = timeOf(path).toISOString().slice(0, 7)
    const keep =
      i === 0
      || now.getTime() - timeOf(path).getTime() < 7 * 86_400_000
      || (!months.has(month) && months.size < 12)
    months.add(month)
    if (!keep) fs.rmSync(path, { force: true })
  })
}
