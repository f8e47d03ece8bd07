import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { fingerprint } from '../../../core/design/fingerprint'
import { demoDesigns } from '../../../demo/demo'
import { openDatabase, type Opened } from '../../../server/db/database'
import {
  createDesign,
  forgetDeleted,
  listDesigns,
  listRevisions,
  maybeDesign,
  maybeRevision,
  saveDesign,
  setDeleted,
} from '../../../server/db/designs'
import { keepProof, keepUpload } from '../../../server/db/records'
import { designs } from '../../../server/db/schema'
import { forgetSecret, secretDates, secretsOf, setSecret } from '../../../server/db/secrets'
import { vaultOf } from '../../../server/db/vault'
import { DESIGN_VERSION } from '../../../core/design/schema'
import { edited, glazeRoom, starter } from '../../fixtures/designs'
import glazeV1 from '../../fixtures/v1/glaze-room.json' with { type: 'json' }
import glazeV2 from '../../fixtures/v2/glaze-room.json' with { type: 'json' }
import glazeV10 from '../../fixtures/v10/glaze-room.json' with { type: 'json' }
import glazeV9 from '../../fixtures/v9/glaze-room.json' with { type: 'json' }
import glazeV8 from '../../fixtures/v8/glaze-room.json' with { type: 'json' }
import glazeV7 from '../../fixtures/v7/glaze-room.json' with { type: 'json' }
import glazeV6 from '../../fixtures/v6/glaze-room.json' with { type: 'json' }
import glazeV5 from '../../fixtures/v5/glaze-room.json' with { type: 'json' }
import glazeV4 from '../../fixtures/v4/glaze-room.json' with { type: 'json' }
import glazeV3 from '../../fixtures/v3/glaze-room.json' with { type: 'json' }

const vault = vaultOf(Buffer.alloc(32, 7))
const renamed = (name: string) => edited(glazeRoom(), { type: 'renameDesign', name })

describe('stored designs', () => {
  let store: Opened
  beforeAll(async () => {
    store = await openDatabase(null)
  })
  beforeEach(async () => {
    await store.db.delete(designs)
  })
  afterAll(() => store.close())

  it('are created, listed newest first, read back as they were', async () => {
    await createDesign(store.db, starter(), 'Taken in')
    const stored = await createDesign(store.db, glazeRoom(), 'Taken in')
    expect(stored).toMatchObject({ revision: 1, fingerprint: fingerprint(glazeRoom()) })
    expect((await maybeDesign(store.db, 'glaze-room'))?.design).toEqual(glazeRoom())
    expect((await listDesigns(store.db)).map(d => [d.id, d.loads, d.revision])).toEqual([
      ['glaze-room', 4, 1],
      [starter().id, 1, 1],
    ])
    expect(await maybeDesign(store.db, 'nowhere')).toBeNull()
  })
  it('are listed with what was proved last, and what was written onto each board last', async () => {
    await createDesign(store.db, starter(), 'Taken in')
    await createDesign(store.db, glazeRoom(), 'Taken in')
    const proof = (result: string, revision: number) =>
      keepProof(store.db, 'glaze-room', {
        kind: 'proof',
        revision,
        title: 'promises',
        results: ['holds', result].map((r, i) => ({
          promise: i ? 'P2' : 'P1',
          loadId: 'rinse-pump',
          result: r,
          reason: '',
          situations: 4,
          bounds: {},
          stories: [],
        })),
      })
    await proof('broken', 1)
    await proof('by timing', 2)
    const written = (controllerId: string, of: string) =>
      keepUpload(store.db, 'glaze-room', {
        kind: 'upload',
        revision: 1,
        title: 'written',
        controllerId,
        chip: 'x',
        bytes: 9,
        fingerprint: of,
      })
    await written('board', 'AAAAAA')
    await written('other', 'BBBBBB')
    await written('board', 'CCCCCC')
    const [glaze, lamp] = await listDesigns(store.db)
    expect(glaze).toMatchObject({
      proved: { passed: 2, of: 2, revision: 2 },
      boards: [
        { controllerId: 'board', fingerprint: 'CCCCCC' },
        { controllerId: 'other', fingerprint: 'BBBBBB' },
      ],
    })
    expect(lamp).toMatchObject({ proved: null, boards: [] })
  })
  it.each([
    ['1', glazeV1],
    ['2', glazeV2],
    ['3', glazeV3],
    ['4', glazeV4],
    ['5', glazeV5],
    ['6', glazeV6],
    ['7', glazeV7],
    ['8', glazeV8],
    ['9', glazeV9],
    ['10', glazeV10],
  ] as const)(
    'one that was stored in version %s is read in the newest, and stored so with the next change',
    async (_, old) => {
      await store.db.insert(designs).values({
        id: 'glaze-room',
        name: 'Glaze room',
        place: '',
        revision: 1,
        document: structuredClone(old) as never,
      })
      const stored = await maybeDesign(store.db, 'glaze-room')
      expect([stored?.design.version, stored?.fingerprint]).toEqual([DESIGN_VERSION, 'D0A7B1'])
      expect((await listDesigns(store.db))[0]).toMatchObject({ loads: 4, fingerprint: 'D0A7B1' })
      expect(await saveDesign(store.db, 'glaze-room', 1, stored!.design, 'Changed')).toMatchObject({
        kind: 'saved',
        revision: 2,
      })
      expect((await maybeRevision(store.db, 'glaze-room', 2))?.design).toEqual(stored?.design)
    },
  )
  it('secrets are kept apart: no document, revision or list holds one, and they go with their design', async () => {
    await createDesign(store.db, glazeRoom(), 'x')
    await setSecret(store.db, vault, 'glaze-room', 'apron-link', 'not-to-be-seen')
    await setSecret(store.db, vault, 'glaze-room', 'apron-link', 'seen-by-nobody')
    expect(await secretsOf(store.db, vault, 'glaze-room')).toEqual({
      'apron-link': 'seen-by-nobody',
    })
    expect(
      JSON.stringify([
        await maybeDesign(store.db, 'glaze-room'),
        await listRevisions(store.db, 'glaze-room'),
        await secretDates(store.db, 'glaze-room'),
      ]),
    ).not.toMatch(/not-to-be-seen|seen-by-nobody/)
    await forgetSecret(store.db, 'glaze-room', 'apron-link')
    expect(await secretsOf(store.db, vault, 'glaze-room')).toEqual({})
    await setSecret(store.db, vault, 'glaze-room', 'apron-link', 'again')
    await store.db.delete(designs)
    expect(await secretsOf(store.db, vault, 'glaze-room')).toEqual({})
  })
  it('an id that is taken gets a number, a deleted one stays taken', async () => {
    await createDesign(store.db, glazeRoom(), 'x')
    await setDeleted(store.db, 'glaze-room', true)
    expect((await createDesign(store.db, glazeRoom(), 'x')).design.id).toBe('glaze-room-2')
    expect((await createDesign(store.db, glazeRoom(), 'x')).design.id).toBe('glaze-room-3')
  })
  it('each save is a revision with its words; a stale one changes nothing', async () => {
    await createDesign(store.db, glazeRoom(), 'Taken in')
    expect(await saveDesign(store.db, 'glaze-room', 1, renamed('Second'), 'Renamed')).toMatchObject(
      { kind: 'saved', revision: 2 },
    )
    expect(await saveDesign(store.db, 'glaze-room', 1, renamed('Late'), 'Renamed late')).toEqual({
      kind: 'stale',
      revision: 2,
    })
    expect(await saveDesign(store.db, 'glaze-room', 3, renamed('Early'), 'x')).toEqual({
      kind: 'stale',
      revision: 2,
    })
    expect(await saveDesign(store.db, 'nowhere', 1, glazeRoom(), 'x')).toEqual({ kind: 'missing' })
    expect((await maybeDesign(store.db, 'glaze-room'))?.design.name).toBe('Second')
    expect((await listRevisions(store.db, 'glaze-room')).map(r => [r.number, r.words])).toEqual([
      [2, 'Renamed'],
      [1, 'Taken in'],
    ])
    expect((await maybeRevision(store.db, 'glaze-room', 1))?.design).toEqual(glazeRoom())
    expect(await maybeRevision(store.db, 'glaze-room', 9)).toBeNull()
  })
  it('of two saves on the same revision exactly one lands', async () => {
    await createDesign(store.db, glazeRoom(), 'x')
    const both = await Promise.all(
      ['A', 'B', 'C'].map(name => saveDesign(store.db, 'glaze-room', 1, renamed(name), name)),
    )
    expect(both.map(s => s.kind).toSorted()).toEqual(['saved', 'stale', 'stale'])
    expect(await listRevisions(store.db, 'glaze-room')).toHaveLength(2)
  })
  it('deleted ones are off the list, restorable, and forgotten after 30 days', async () => {
    await createDesign(store.db, glazeRoom(), 'x')
    expect(await setDeleted(store.db, 'glaze-room', true)).toBe(true)
    expect(await setDeleted(store.db, 'glaze-room', true)).toBe(false)
    expect(await listDesigns(store.db)).toEqual([])
    expect(await saveDesign(store.db, 'glaze-room', 1, renamed('x'), 'x')).toEqual({
      kind: 'missing',
    })
    const days = (n: number) => new Date(Date.now() + n * 86_400_000)
    await forgetDeleted(store.db, days(29))
    expect(await setDeleted(store.db, 'glaze-room', false)).toBe(true)
    expect((await maybeDesign(store.db, 'glaze-room'))?.design).toEqual(glazeRoom())
    await setDeleted(store.db, 'glaze-room', true)
    await forgetDeleted(store.db, days(31))
    expect(await setDeleted(store.db, 'glaze-room', false)).toBe(false)
  })
  it('the demo designs are valid', () =>
    expect(demoDesigns().map(d => d.id)).toEqual([
      'old-dairy',
      starter().id,
      'glaze-room',
      'kiln-corridor',
      'showroom',
    ]))
})

describe('the data folder', () => {
  it('keeps designs from one opening to the next, and opening again migrates nothing twice', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'nolvi-db-'))
    try {
      const first = await openDatabase(folder)
      await createDesign(first.db, glazeRoom(), 'x')
      await first.close()
      const second = await openDatabase(folder)
      expect((await maybeDesign(second.db, 'glaze-room'))?.design).toEqual(glazeRoom())
      await second.close()
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  })
})
