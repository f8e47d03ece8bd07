/**
 * Opens the embedded PostgreSQL in the data folder, brings it to the newest migration, and hands it
 * out. Every commit is flushed before it is acknowledged.
 */
import fs from 'node:fs'
import { dirname, resolve } from 'node:path'
import type { PGlite } from '@electric-sql/pglite'
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite'
import { migrate } from 'drizzle-orm/pglite/migrator'
import { WatchedClient } from './client'
import { DurableFs, flush, flushTree, START_PARAMS } from './durable-fs'
import {
  databaseOf,
  examineFolder,
  prepareFolder,
  StoreTrouble,
  troubleOf,
  unfinishedOf,
  wayBack,
} from './folder'

export type Database = PgliteDatabase & { $client: PGlite }

/** `ended`: whether the database has ended by itself and must be opened anew. */
export interface Opened {
  db: Database
  ended: () => boolean
  close: () => Promise<void>
}

/**
 * `folder` null keeps everything in memory (tests). Throws `StoreTrouble` where the folder or what
 * is in it cannot be used.
 */
export async function openDatabase(
  folder: string | null,
  migrationsFolder = process.env.NOLVI_MIGRATIONS ?? resolve('server/db/migrations'),
): Promise<Opened> {
  if (folder === null) return opened(WatchedClient.of(), migrationsFolder)
  prepareFolder(folder)
  if (examineFolder(folder) === 'new') await make(folder)
  try {
    const store = await opened(start(databaseOf(folder)), migrationsFolder)
    await readThrough(store.db)
    return store
  } catch (error) {
    const known = troubleOf(folder, error)
    throw known instanceof StoreTrouble
      ? known
      : new StoreTrouble(
          `The database in ${folder} cannot be opened: ${firstLine(error)}. ${wayBack(folder)}`,
          { cause: error },
        )
  }
}

async function opened(client: WatchedClient, migrationsFolder: string): Promise<Opened> {
  await client.waitReady
  client.arm()
  const db = drizzle({ client })
  await migrate(db, { migrationsFolder })
  return { db, ended: () => client.ended !== null, close: () => client.close() }
}

function start(path: string): WatchedClient {
  return WatchedClient.of({ fs: new DurableFs(path), startParams: START_PARAMS })
}

/**
 * Made beside its place, flushed, then moved: a start that is cut leaves nothing that looks like a
 * database.
 */
async function make(folder: string): Promise<void> {
  const [beside, place] = [unfinishedOf(folder), databaseOf(folder)]
  try {
    fs.rmSync(beside, { recursive: true, force: true })
    const client = start(beside)
    await client.waitReady
    await client.close()
    flushTree(beside)
    fs.rmSync(place, { recursive: true, force: true })
    fs.renameSync(beside, place)
    flush(dirname(place))
  } catch (error) {
    fs.rmSync(beside, { recursive: true, force: true })
    throw troubleOf(folder, error)
  }
}

/**
 * Every table can be read from its first row to its last: a file that is missing shows now, not
 * with the first save.
 */
async function readThrough(db: Database): Promise<void> {
  for (const table of ['designs', 'revisions', 'secrets', 'records'])
    await db.execute(`select count(*) from ${table}`)
  await db.execute('select sum(length(document::text)) from designs')
}

function firstLine(error: unknown): string {
  const cause = (error as { cause?: unknown }).cause
  return (
    String((cause as Error | undefined)?.message ?? (error as Error)?.message ?? error)
      .split('\n')[0]
      ?.slice(0, 200) ?? ''
  )
}
