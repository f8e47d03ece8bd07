/** At start: take the data folder, open and migrate the database, seed the demo if asked. At the end: give it back. */
import { resolve } from 'node:path'
import { openDatabase } from '../db/database'
import { createDesign, forgetDeleted, maybeDesign } from '../db/designs'
import { FolderInUse, lockFolder } from '../db/lock'
import { demoDesigns } from '../../demo/demo'
import { stopAllStandIns } from '../live/stand-ins'
import { closeStore, setStore } from '../utils/store'

export default defineNitroPlugin((nitro) => {
  if (import.meta.prerender) return
  const folder = resolve(process.env.NOLVI_DATA ?? '.data')
  const release = take(folder)
  const opening = openDatabase(folder)
  setStore(opening)
  opening.then(async ({ db }) => {
    await forgetDeleted(db)
    if (process.env.NOLVI_DEMO === '1') {
      for (const design of demoDesigns()) if (!await maybeDesign(db, design.id)) await createDesign(db, design, 'Demo design')
    }
  }).catch((error: unknown) => {
    console.error('The database in', folder, 'cannot be opened:', error)
    process.exit(1)
  })
  nitro.hooks.hook('close', async () => {
    await stopAllStandIns()
    await closeStore()
    release()
  })
  process.on('exit', release)
})

function take(folder: string): () => void {
  try { return lockFolder(folder) }
  catch (error) {
    console.error(error instanceof FolderInUse ? error.message : error)
    process.exit(1)
  }
}
