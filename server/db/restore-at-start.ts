/** A backup named at start (`NOLVI_RESTORE`): taken once, in the place of what was there. */
import fs from 'node:fs'
import { resolve } from 'node:path'
import { BadBackup, readBackup, restoreBackup, stamp, type Backup } from './backup'
import type { Database } from './database'
import { databaseOf } from './folder'

const markOf = (folder: string) => resolve(folder, 'restored.json')
const markText = ({ path, at, bytes }: Backup) => JSON.stringify({ path, at, bytes })

/**
 * A backup that is to be taken up at start: checked first, and taken once only. The database that
 * was there is put aside. Answers with the backup, or null.
 */
export async function putAside(folder: string, path: string): Promise<Backup | null> {
  const read = await readBackup(path).catch((error: unknown) => {
    throw error instanceof BadBackup
      ? new BadBackup(`${path} was not taken: ${error.message}. Nothing was touched.`)
      : error
  })
  if (fs.existsSync(markOf(folder)) && fs.readFileSync(markOf(folder), 'utf8') === markText(read)) {
    console.log(
      `${path} was restored before; what was stored since stands. Leave NOLVI_RESTORE out.`,
    )
    return null
  }
  if (fs.existsSync(databaseOf(folder))) {
    const aside = `${databaseOf(folder)}.aside-${stamp(new Date())}`
    fs.renameSync(databaseOf(folder), aside)
    console.log(`The database that was there is put aside: ${aside}`)
  }
  return read
}

/** Takes the backup up into the new database, and marks it as taken. */
export async function takeUp(db: Database, folder: string, { path }: Backup): Promise<void> {
  const restored = await restoreBackup(db, path)
  fs.writeFileSync(markOf(folder), markText(restored), { flush: true })
  console.log(
    `Restored from ${path} of ${restored.at}: ${restored.counts.designs} designs, ${restored.counts.revisions} revisions.`,
  )
}
