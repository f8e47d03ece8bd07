/**
 * What is done now and then so that nothing is lost and nothing grows without end: a backup a day,
 * old revisions thinned, space given back.
 */
import { backupDue, backupPath, pruneBackups, writeBackup, type Backup } from './backup'
import type { Database } from './database'
import { forgetDeleted } from './designs'
import { thinRevisions } from './thin'

export async function keepHouse(
  db: Database,
  folder: string,
  keyId: string,
  now = new Date(),
): Promise<Backup | null> {
  if (!backupDue(folder, now)) return null
  // First what is there, then what goes.
  const backup = await writeBackup(db, keyId, backupPath(folder, '', now))
  pruneBackups(folder, now)
  await forgetDeleted(db, now)
  await thinRevisions(db, now)
  // Nobody else tidies up in an embedded database. A table at a time, so that others are let
  // through in between.
  for (const table of ['designs', 'revisions', 'records', 'secrets'])
    await db.execute(`vacuum (analyze) ${table}`)
  await db.execute('checkpoint')
  return backup
}
