import { createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { BadBackup, backupPath, readBackup, restoreBackup, writeBackup } from '../db/backup'
import { sealAll } from '../db/secrets'

const MOST_BYTES = 500_000_000

/**
 * Puts a backup in the place of everything. It is checked whole first, and what is there is backed
 * up before; `locked`: secrets that were sealed with another key and have to be set anew.
 */
export default defineEventHandler(async event => {
  const { db, vault, folder } = await theStore()
  const beside = await mkdtemp(join(tmpdir(), 'nolvi-restore-'))
  try {
    const path = join(beside, 'given.json.gz')
    let size = 0
    await pipeline(
      event.node.req,
      async function* (pieces: AsyncIterable<Buffer>) {
        for await (const piece of pieces) {
          size += piece.length
          if (size > MOST_BYTES) throw new BadBackup(`it is larger than ${MOST_BYTES / 1e6} MB`)
          yield piece
        }
      },
      createWriteStream(path, { mode: 0o600 }),
    )
    // Nothing is written for a file that will not be taken.
    await readBackup(path)
    const before = await writeBackup(db, vault.keyId, backupPath(folder, 'before-restore'))
    const restored = await restoreBackup(db, path)
    await sealAll(db, vault)
    return {
      at: restored.at,
      counts: restored.counts,
      locked: restored.keyId === vault.keyId ? 0 : restored.counts.secrets,
      before: before.path,
    }
  } catch (error) {
    if (error instanceof BadBackup)
      throw refuse(400, 'This backup was not taken: nothing was changed', [
        { path: '', message: error.message },
      ])
    throw error
  } finally {
    await rm(beside, { recursive: true, force: true })
  }
})
