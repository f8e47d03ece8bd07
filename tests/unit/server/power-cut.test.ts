import fs from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { seededRandom } from '../../../core/units/random'
import { openDatabase, type Opened } from '../../../server/db/database'
import { createDesign, listRevisions, maybeDesign, saveDesign } from '../../../server/db/designs'
import { databaseOf } from '../../../server/db/folder'
import { edited, glazeRoom } from '../../fixtures/designs'
import { cutPower, recordDisk, type Recorded } from '../../fixtures/power-cut'

const CUTS = Number(process.env.NOLVI_CUTS ?? 8)
const SAVES = 40

/** A flush a save is what the promise costs; without it the second half of this file fails. */
describe('a power cut', () => {
  const root = fs.mkdtempSync(join(tmpdir(), 'nolvi-cut-'))
  let recorded: Recorded
  beforeAll(async () => {
    const folder = join(root, 'data')
    let store: Opened = await openDatabase(folder)
    await createDesign(store.db, glazeRoom(), 'Taken in')
    await store.close()
    recorded = recordDisk(databaseOf(folder), join(root, 'base'))
    try {
      store = await openDatabase(folder)
      for (let revision = 1; revision <= SAVES; revision++) {
        const before = recorded.flushes()
        const saved = await saveDesign(
          store.db,
          'glaze-room',
          revision,
          edited(glazeRoom(), { type: 'renameDesign', name: `Revision ${revision + 1}` }),
          'Renamed',
        )
        expect(saved.kind).toBe('saved')
        // Flushed before it is acknowledged, and not more often than needed.
        expect(recorded.flushes() - before, 'flushes of one save').toBeGreaterThanOrEqual(1)
        recorded.acknowledge(revision + 1)
        if (revision === SAVES / 2) await store.db.execute('checkpoint')
      }
      await store.close()
    } finally {
      recorded.stop()
    }
  })
  afterAll(() => fs.rmSync(root, { recursive: true, force: true }))

  it('a save is one flush or two', () => {
    const acknowledged = recorded.written.flatMap((w, i) => (w.kind === 'acknowledged' ? [i] : []))
    const counts = acknowledged
      .slice(1)
      .map(
        (at, i) =>
          recorded.written.slice(acknowledged[i], at).filter(w => w.kind === 'flush').length,
      )
    expect(counts.sort((a, b) => a - b)[counts.length >> 1]).toBeLessThanOrEqual(2)
  })

  it.each(Array.from({ length: CUTS }, (_, n) => n + 1))(
    'number %i loses nothing that was acknowledged',
    async seed => {
      const dice = seededRandom(seed).next
      const folder = join(root, `cut-${seed}`)
      fs.mkdirSync(folder)
      const acknowledged = cutPower(
        recorded,
        Math.floor(dice() * recorded.written.length),
        databaseOf(folder),
        dice,
      )
      const store = await openDatabase(folder)
      const there = await maybeDesign(store.db, 'glaze-room')
      expect(there?.revision).toBeGreaterThanOrEqual(Math.max(1, acknowledged))
      expect(there?.revision).toBeLessThanOrEqual(acknowledged + 2)
      if (there && there.revision > 1) expect(there.design.name).toBe(`Revision ${there.revision}`)
      expect(await listRevisions(store.db, 'glaze-room')).toHaveLength(there?.revision ?? 0)
      await store.close()
      fs.rmSync(folder, { recursive: true, force: true })
    },
  )
})
