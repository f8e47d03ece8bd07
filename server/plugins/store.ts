/**
 * At start: take the data folder, open and migrate the database, seed the demo if asked. At the
 * end: give it back.
 */
import { resolve } from 'node:path'
import { createDesign, forgetDeleted, maybeDesign, Unreadable } from '../db/designs'
import { StoreTrouble } from '../db/folder'
import type { Database } from '../db/database'
import { BadBackup } from '../db/backup'
import { keepHouse } from '../db/keep-house'
import { FolderInUse, lockFolder } from '../db/lock'
import { putAside, takeUp } from '../db/restore-at-start'
import { sealAll } from '../db/secrets'
import { demoDesigns } from '../../demo/demo'
import { clearAllDesks } from '../live/desks'
import { stopAllStandIns } from '../live/stand-ins'
import { closeStore, openStore, theStore } from '../utils/store'
import { heavy } from '../utils/heavy'

const LOOK_MS = 10 * 60_000
/** Who starts it for a few minutes a day gets a backup too. */
const FIRST_LOOK_MS = 60_000
/** Longer than this nobody is waited for when the server is to end. */
const END_MS = 8_000

export default defineNitroPlugin(nitro => {
  if (import.meta.prerender) return
  const folder = resolve(process.env.NOLVI_DATA ?? '.data')
  let release: () => Promise<void> = () => Promise.resolve()
  let ended: Promise<void> | null = null

  const start = async () => {
    release = await lockFolder(folder)
    const restored = process.env.NOLVI_RESTORE
      ? await putAside(folder, process.env.NOLVI_RESTORE)
      : null
    const { db, vault } = await openStore(folder)
    if (restored) await takeUp(db, folder, restored)
    await forgetDeleted(db)
    await sealAll(db, vault)
    await readKeys(db)
    if (keys.guarded) tellCode()
    if (process.env.NOLVI_DEMO === '1') {
      for (const design of demoDesigns()) {
        if (!(await isThere(db, design.id))) await createDesign(db, design, 'Demo design')
      }
    }
  }
  const look = async () => {
    try {
      const { db, vault } = await theStore()
      const made = await keepHouse(db, folder, vault.keyId)
      if (made)
        console.log(
          `Backup ${made.path}: ${made.counts.designs} designs, ${made.counts.revisions} revisions, read back whole.`,
        )
    } catch (error) {
      if (!ended)
        console.error('No backup could be made:', error instanceof Error ? error.message : error)
    }
  }
  const house = [setTimeout(look, FIRST_LOOK_MS).unref(), setInterval(look, LOOK_MS).unref()]

  const end = () =>
    (ended ??= (async () => {
      house.forEach(clearInterval)
      setTimeout(() => process.exit(0), END_MS).unref()
      clearAllDesks()
      await stopAllStandIns()
      await heavy.close()
      await closeStore()
      await release()
    })())
  // Also while it is still being opened: what was begun is finished or left as nothing, then it
  // ends.
  for (const signal of ['SIGTERM', 'SIGINT', 'SIGHUP'] as const)
    process.once(signal, () => void end().finally(() => process.exit(0)))
  nitro.hooks.hook('close', end)
  // Before the framework's own, which tells it at length and goes on without a port. Nothing is
  // open yet that an end could harm: the folder is given back with the process.
  process.prependListener('uncaughtException', (error: NodeJS.ErrnoException) => {
    const { NITRO_HOST: host, NITRO_PORT: port } = process.env
    const why =
      error.syscall !== 'listen'
        ? undefined
        : {
            EADDRINUSE: `Port ${port} of ${host} is taken by another program: end that one, or choose another with NOLVI_PORT=<port>`,
            EACCES: `This user may not use port ${port}: choose another with NOLVI_PORT=<port>`,
            EADDRNOTAVAIL: `${host} is no address of this machine: choose one of its own with NOLVI_HOST=<address>`,
          }[error.code ?? '']
    if (why === undefined) return
    console.error(`${why}.`)
    process.exit(1)
  })

  start().catch(async (error: unknown) => {
    if (ended) return
    const told =
      error instanceof FolderInUse || error instanceof StoreTrouble || error instanceof BadBackup
    console.error(told ? (error as Error).message : error)
    await end()
    process.exit(1)
  })
})

/**
 * Where others come in, and how: read by scripts/serve.mjs, which makes it readable for a phone
 * too.
 */
function tellCode(): void {
  keys.changed = code => console.log(`Pairing code: ${code}`)
  keys.changed(keys.code)
}

/** One that cannot be read is there too. */
async function isThere(db: Database, id: string): Promise<boolean> {
  try {
    return (await maybeDesign(db, id)) !== null
  } catch (error) {
    if (error instanceof Unreadable) return true
    throw error
  }
}
