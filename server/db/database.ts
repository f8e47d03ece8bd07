/** Opens the embedded PostgreSQL in the data folder, brings it to the newest migration, and hands it out. */
import { join, resolve } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite'
import { migrate } from 'drizzle-orm/pglite/migrator'

export type Database = PgliteDatabase & { $client: PGlite }

export interface Opened { db: Database, close: () => Promise<void> }

/** `folder` null keeps everything in memory (tests). */
export async function openDatabase(folder: string | null, migrationsFolder = process.env.NOLVI_MIGRATIONS ?? resolve('server/db/migrations')): Promise<Opened> {
  const client = folder === null ? new PGlite() : new PGlite(join(folder, 'database'))
  await client.waitReady
  const db = drizzle({ client })
  await migrate(db, { migrationsFolder })
  return { db, close: () => client.close() }
}
