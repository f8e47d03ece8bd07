import { createReadStream, rmSync } from 'node:fs'
import { mkdtemp } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { writeBackup } from '../db/backup'

/** Everything in one file, read back whole before it is handed out. Secrets are in it sealed. */
export default defineEventHandler(async event => {
  const { db, vault } = await theStore()
  const folder = await mkdtemp(join(tmpdir(), 'nolvi-backup-'))
  const away = () => rmSync(folder, { recursive: true, force: true })
  try {
    const { path, bytes, at } = await writeBackup(db, vault.keyId, join(folder, 'backup.json.gz'))
    setHeader(event, 'content-type', 'application/gzip')
    setHeader(event, 'content-length', bytes)
    setHeader(
      event,
      'content-disposition',
      `attachment; filename="nolvi-${at.slice(0, 10)}.json.gz"`,
    )
    event.node.res.once('close', away)
    return sendStream(event, createReadStream(path))
  } catch (error) {
    away()
    throw error
  }
})
