import { DESIGN_VERSION } from '../../../core/design/schema'
import fs from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { gunzipSync, gzipSync } from 'node:zlib'
import { eq } from 'drizzle-orm'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import {
  BadBackup,
  backupDue,
  pruneBackups,
  readBackup,
  restoreBackup,
  writeBackup,
} from '../../../server/db/backup'
import { DatabaseEnded } from '../../../server/db/client'
import { openDatabase, type Opened } from '../../../server/db/database'
import {
  createDesign,
  listDesigns,
  listRevisions,
  maybeDesign,
  rawDesign,
  saveDesign,
  Unreadable,
} from '../../../server/db/designs'
import { addDevice, listDevices, withdrawDevice } from '../../../server/db/devices'
import { backupsOf, databaseOf, StoreTrouble, unfinishedOf } from '../../../server/db/folder'
import { keepHouse } from '../../../server/db/keep-house'
import { keepDrills, listRecords } from '../../../server/db/records'
import { designs, revisions, secrets } from '../../../server/db/schema'
import { sealAll, secretsOf, setSecret } from '../../../server/db/secrets'
import { NEWEST, thinned, thinRevisions } from '../../../server/db/thin'
import { openVault, vaultOf } from '../../../server/db/vault'
import { storeProblem } from '../../../server/utils/store-problem'
import { edited, glazeRoom, starter } from '../../fixtures/designs'

const DAY = 86_400_000
setFlagsFromString('--expose-gc')
const collectGarbage = runInNewContext('gc') as () => void
const rename = (name: string) => edited(glazeRoom(), { type: 'renameDesign', name })

/** One that was made and closed; each test gets a copy. */
const whole = fs.mkdtempSync(join(tmpdir(), 'nolvi-whole-'))
let folder = ''
beforeAll(async () => {
  const store = await openDatabase(join(whole, 'data'))
  await createDesign(store.db, glazeRoom(), 'Taken in')
  await store.close()
})
afterAll(() => fs.rmSync(whole, { recursive: true, force: true }))
beforeEach(() => {
  folder = fs.mkdtempSync(join(tmpdir(), 'nolvi-store-'))
})
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }))
const taken = () => {
  fs.cpSync(join(whole, 'data'), folder, { recursive: true })
  return folder
}
async function within<T>(work: (store: Opened) => Promise<T>): Promise<T> {
  const store = await openDatabase(folder)
  try {
    return await work(store)
  } finally {
    await store.close()
  }
}

describe('a data folder', () => {
  it('that is new is made beside its place, readable for its owner alone; a start that was cut is begun anew', async () => {
    fs.mkdirSync(join(unfinishedOf(folder), 'base'), { recursive: true })
    await within(async () => undefined)
    expect(fs.existsSync(unfinishedOf(folder))).toBe(false)
    expect(fs.statSync(folder).mode & 0o777).toBe(0o700)
  })
  it.each([['PG_VERSION'], ['global/pg_control'], ['base'], ['pg_wal']])(
    'without %s is told as damaged, with the way back, and stays as it is',
    async name => {
      taken()
      fs.rmSync(join(databaseOf(folder), name), { recursive: true })
      const before = fs.readdirSync(databaseOf(folder), { recursive: true }).sort()
      const trouble = await openDatabase(folder).catch((e: unknown) => e)
      expect(trouble).toBeInstanceOf(StoreTrouble)
      expect((trouble as Error).message).toMatch(
        new RegExp(`damaged: ${name} is missing. Nothing was touched.*NOLVI_DATA=`),
      )
      expect(fs.readdirSync(databaseOf(folder), { recursive: true }).sort()).toEqual(before)
    },
  )
  it("of somebody else's files is never made into a database", async () => {
    fs.mkdirSync(databaseOf(folder))
    fs.writeFileSync(join(databaseOf(folder), 'letter.txt'), 'dear')
    await expect(openDatabase(folder)).rejects.toThrow(/damaged/)
    expect(fs.readdirSync(databaseOf(folder))).toEqual(['letter.txt'])
  })
  it('with a table that is missing tells so at start, and names the newest backup', async () => {
    taken()
    await within(async ({ db }) => {
      fs.mkdirSync(backupsOf(folder))
      await writeBackup(db, 'k', join(backupsOf(folder), 'nolvi-2026-11-01T03-00-00.json.gz'))
      const { rows } = await db.execute("select pg_relation_filepath('revisions') as path")
      fs.writeFileSync(join(folder, 'path'), String(rows[0]!.path))
    })
    fs.rmSync(join(databaseOf(folder), fs.readFileSync(join(folder, 'path'), 'utf8')))
    await expect(openDatabase(folder)).rejects.toThrow(
      /cannot be opened.*NOLVI_RESTORE=.*nolvi-2026-11-01T03-00-00/,
    )
  })
  it('that is a file, or lies in one, is told in a sentence', async () => {
    fs.writeFileSync(join(folder, 'file'), '')
    await expect(openDatabase(join(folder, 'file'))).rejects.toThrow(/is a file.*NOLVI_DATA=/)
    await expect(openDatabase(join(folder, 'file', 'deeper'))).rejects.toThrow(
      /is a file, or lies in one/,
    )
  })
  it.runIf(process.getuid?.() === 0)('of another user is left alone', async () => {
    fs.chownSync(folder, 12_345, 12_345)
    await expect(openDatabase(folder)).rejects.toThrow(/belongs to another user \(number 12345/)
    expect(fs.readdirSync(folder)).toEqual([])
  })
})

describe('a disk', () => {
  const failing = async (
    name: 'writeSync' | 'fsyncSync',
    code: string,
    work: () => Promise<unknown>,
  ) => {
    const real = fs[name]
    Object.assign(fs, {
      [name]: () => {
        throw Object.assign(new Error(code), { code })
      },
    })
    try {
      return await work().catch((e: unknown) => e)
    } finally {
      Object.assign(fs, { [name]: real })
    }
  }
  it('that is full: nothing is stored, it is said so, and what was stored stands', async () => {
    taken()
    await within(async ({ db }) => {
      const refused = await failing('writeSync', 'ENOSPC', () => createDesign(db, starter(), 'x'))
      expect(storeProblem(refused)).toMatchObject({
        status: 507,
        title: 'The disk is full: nothing was stored',
      })
    })
    await within(async ({ db }) => {
      expect((await listDesigns(db)).map(d => d.id)).toEqual(['glaze-room'])
      await createDesign(db, starter(), 'x')
    })
  })
  it('that does not flush: nothing is acknowledged, nobody waits for ever, and opened anew all that was acknowledged is there', async () => {
    taken()
    const store = await openDatabase(folder)
    const refused = await failing('fsyncSync', 'EIO', () =>
      saveDesign(store.db, 'glaze-room', 1, rename('Lost'), 'x'),
    )
    expect(storeProblem(refused)).toMatchObject({ status: 503 })
    expect(store.ended()).toBe(true)
    await expect(
      maybeDesign(store.db, 'glaze-room').catch((e: Error) => {
        throw e.cause as Error
      }),
    ).rejects.toThrow(DatabaseEnded)
    await store.close()
    await within(async ({ db }) =>
      expect((await maybeDesign(db, 'glaze-room'))?.design.id).toBe('glaze-room'),
    )
  })
})

it('a query that fails is only that: the database goes on, in and out of a transaction', async () => {
  taken()
  await within(async ({ db, ended }) => {
    await expect(db.execute('select nothing from nowhere')).rejects.toThrow()
    await expect(
      db.transaction(async tx => {
        await tx
          .insert(designs)
          .values({ id: 'half', name: 'Half', place: '', revision: 1, document: glazeRoom() })
        await tx.execute('create table designs (id int)')
      }),
    ).rejects.toThrow()
    expect(ended()).toBe(false)
    expect((await listDesigns(db)).map(d => d.id)).toEqual(['glaze-room'])
  })
})

it('an answer is kept by nobody once it was given: memory does not grow with the queries', async () => {
  const store = await openDatabase(null)
  const answers: WeakRef<object>[] = []
  for (let n = 0; n < 200; n++)
    answers.push(new WeakRef(await store.db.$client.query(`select repeat('x', 10000), ${n}`)))
  await new Promise(done => setImmediate(done))
  collectGarbage()
  // The last few may still be held by what asked.
  expect(answers.filter(a => a.deref()).length).toBeLessThan(10)
  await store.close()
})

describe('a row that cannot be read', () => {
  it.each([
    ['of a newer version', { ...glazeRoom(), version: 99 }, /version 99, made by a newer Nolvi/],
    ['that is no design', { version: 8 }, /./],
    ['that is nothing', null, /a design is a JSON object/],
  ])('%s holds nobody up, and stays as it is', async (_, document, why) => {
    taken()
    await within(async ({ db }) => {
      await createDesign(db, starter(), 'x')
      // JSON's own null, not that of the database.
      await db.execute(
        `update designs set document = '${JSON.stringify(document).replaceAll("'", "''")}' where id = 'glaze-room'`,
      )
      expect((await listDesigns(db)).map(d => [d.id, d.unreadable === null])).toEqual(
        expect.arrayContaining([
          ['glaze-room', false],
          [starter().id, true],
        ]),
      )
      expect((await listDesigns(db)).find(d => d.id === 'glaze-room')?.unreadable).toMatch(why)
      await expect(maybeDesign(db, 'glaze-room')).rejects.toThrow(Unreadable)
      expect(await rawDesign(db, 'glaze-room')).toEqual(document)
      // Over what is of another version nothing is saved.
      if (document?.version !== 8)
        await expect(saveDesign(db, 'glaze-room', 1, rename('Over it'), 'x')).rejects.toThrow(
          Unreadable,
        )
      expect(await saveDesign(db, 'glaze-room', 7, rename('Over it'), 'x')).toMatchObject({
        kind: 'stale',
      })
      expect(await rawDesign(db, 'glaze-room')).toEqual(document)
    })
  })
})

describe('secrets at rest', () => {
  const about = 'glaze-room apron-link'
  it('open with the key and for what they were sealed for, and not otherwise', () => {
    const [vault, other] = [vaultOf(Buffer.alloc(32, 1)), vaultOf(Buffer.alloc(32, 2))]
    const sealed = vault.seal('1234', about)
    expect([
      vault.open(sealed, about),
      other.open(sealed, about),
      vault.open(sealed, 'glaze-room office-link'),
    ]).toEqual(['1234', null, null])
    for (let i = 0; i < sealed.length; i++)
      expect(
        vault.open(
          sealed.slice(0, i) + (sealed[i] === 'A' ? 'B' : 'A') + sealed.slice(i + 1),
          about,
        ) ?? '1234',
      ).toBe('1234')
    expect(vault.open(sealed.slice(0, -4), about)).toBeNull()
    expect(vault.seal('1234', about)).not.toBe(sealed)
  })
  it('the key is made once, for its owner alone; a damaged one is told, not replaced', () => {
    const vault = openVault(folder)
    expect(openVault(folder).keyId).toBe(vault.keyId)
    expect(fs.statSync(join(folder, 'secret.key')).mode & 0o777).toBe(0o600)
    fs.writeFileSync(join(folder, 'secret.key'), 'half')
    expect(() => openVault(folder)).toThrow(/is damaged/)
    expect(fs.readFileSync(join(folder, 'secret.key'), 'utf8')).toBe('half')
  })
  it('those of an earlier version are sealed at the next start; no file of the database holds one', async () => {
    taken()
    const vault = openVault(folder)
    await within(async ({ db }) => {
      await db
        .insert(secrets)
        .values({ designId: 'glaze-room', linkId: 'office-link', value: 'open before' })
      await setSecret(db, vault, 'glaze-room', 'apron-link', 'never-lies-open')
      await sealAll(db, vault)
      expect(await secretsOf(db, vault, 'glaze-room')).toEqual({
        'apron-link': 'never-lies-open',
        'office-link': 'open before',
      })
      expect((await db.select().from(secrets)).map(s => s.sealed)).toEqual([true, true])
      expect(await secretsOf(db, vaultOf(Buffer.alloc(32, 9)), 'glaze-room')).toEqual({})
    })
    const found = fs
      .readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter(
        f => f.isFile() && fs.readFileSync(join(f.parentPath, f.name)).includes('never-lies-open'),
      )
    expect(found).toEqual([])
  })
})

describe('a backup', () => {
  const path = () => join(folder, 'backup.json.gz')
  const filled = () =>
    within(async ({ db }) => {
      for (let n = 1; n <= 130; n++)
        await saveDesign(db, 'glaze-room', n, rename(`Number ${n}`), `Change ${n}`)
      await createDesign(db, starter(), 'Taken in')
      await setSecret(db, vaultOf(Buffer.alloc(32, 1)), 'glaze-room', 'apron-link', 'hush')
      await keepDrills(db, 'glaze-room', { revision: 3, title: 'Drills', results: [] })
      return writeBackup(db, 'key', path())
    })
  it('holds everything, comes back as it was into another folder, and numbers of records go on behind it', async () => {
    taken()
    const made = await filled()
    expect(made).toMatchObject({ counts: { designs: 2, revisions: 132, secrets: 1, records: 1 } })
    expect(gunzipSync(fs.readFileSync(path())).toString()).not.toContain('hush')
    const elsewhere = fs.mkdtempSync(join(tmpdir(), 'nolvi-else-'))
    const store = await openDatabase(elsewhere)
    await createDesign(
      store.db,
      edited(starter(), { type: 'renameDesign', name: 'In the way' }),
      'x',
    )
    await restoreBackup(store.db, path())
    expect((await listDesigns(store.db)).map(d => d.name).sort()).toEqual(
      ['Number 130', starter().name].sort(),
    )
    expect(await listRevisions(store.db, 'glaze-room')).toHaveLength(131)
    expect((await maybeDesign(store.db, 'glaze-room'))?.design).toEqual(rename('Number 130'))
    expect(await secretsOf(store.db, vaultOf(Buffer.alloc(32, 1)), 'glaze-room')).toEqual({
      'apron-link': 'hush',
    })
    await keepDrills(store.db, 'glaze-room', { revision: 3, title: 'Later', results: [] })
    expect((await listRecords(store.db, 'glaze-room')).map(r => r.title)).toEqual([
      'Later',
      'Drills',
    ])
    await store.close()
    fs.rmSync(elsewhere, { recursive: true, force: true })
  })
  it('made while others save is whole in itself: it comes back, and saves go on from it', async () => {
    taken()
    await filled()
    await within(async ({ db }) => {
      const saving = (async () => {
        for (let n = 131; n <= 150; n++) {
          await saveDesign(db, 'glaze-room', n, rename(`Number ${n}`), 'x')
          await createDesign(db, starter(), 'x')
        }
      })()
      const [made] = await Promise.all([writeBackup(db, 'key', path()), saving])
      // It was made in the midst of them.
      expect(made.counts.designs).toBeLessThan((await listDesigns(db)).length)
      await restoreBackup(db, path())
      const { revision } = (await maybeDesign(db, 'glaze-room'))!
      expect((await listRevisions(db, 'glaze-room')).map(r => r.number)[0]).toBe(revision)
      expect(await saveDesign(db, 'glaze-room', revision, rename('After'), 'x')).toMatchObject({
        kind: 'saved',
        revision: revision + 1,
      })
    })
  })
  it('that was cut, changed, or is something else is refused with the line, and nothing is changed', async () => {
    taken()
    await filled()
    const good = fs.readFileSync(path())
    const lines = gunzipSync(good).toString().split('\n')
    const packed = (list: string[]) => gzipSync(list.join('\n'))
    const bad: [string, Buffer, RegExp][] = [
      ['cut', good.subarray(0, good.length >> 1), /cannot be read|cut/],
      ['nothing', Buffer.alloc(0), /cut|cannot be read/],
      ['not zipped', Buffer.from('hello'), /cannot be read/],
      ['something else', gzipSync('{"a":1}\n'), /line 1: this is not a backup/],
      [
        'newer',
        packed([lines[0]!.replace('"version":1', '"version":2'), ...lines.slice(1)]),
        /newer Nolvi/,
      ],
      ['a row less', packed([...lines.slice(0, 5), ...lines.slice(6)]), /file was changed/],
      [
        'a letter',
        packed(lines.map((l, i) => (i === 1 ? l.replace('Number 130', 'Number 131') : l))),
        /file was changed/,
      ],
      [
        'a row of nobody',
        packed([lines[0]!, ...lines.slice(3)]),
        /line \d+: it belongs to a design/,
      ],
      [
        'a newer design',
        packed(
          lines.map((l, i) =>
            i === 1 ? l.replace(`"version":${DESIGN_VERSION}`, '"version":99') : l,
          ),
        ),
        /version 99 was made by a newer/,
      ],
      ['without its end', packed(lines.slice(0, -2)), /ends too early/],
      ['more behind it', packed([...lines.slice(0, -1), lines[0]!, '']), /follows the last line/],
    ]
    await within(async ({ db }) => {
      const before = await listRevisions(db, 'glaze-room')
      for (const [what, bytes, why] of bad) {
        fs.writeFileSync(path(), bytes)
        const refused = await restoreBackup(db, path()).catch((e: unknown) => e)
        expect(refused, what).toBeInstanceOf(BadBackup)
        expect((refused as Error).message, what).toMatch(why)
      }
      expect(await listRevisions(db, 'glaze-room')).toEqual(before)
    })
    await expect(readBackup(join(folder, 'nowhere'))).rejects.toThrow(/there is no file/)
  })
  it('is made once a day, at night where it can; old ones go, of each month one stays', async () => {
    fs.mkdirSync(backupsOf(folder), { recursive: true })
    const at = (iso: string) => new Date(`${iso}Z`)
    const put = (iso: string) =>
      fs.writeFileSync(join(backupsOf(folder), `nolvi-${iso.replaceAll(':', '-')}.json.gz`), '')
    expect(backupDue(folder, at('2026-11-20T12:00:00'))).toBe(true)
    put('2026-11-20T03:00:00')
    expect(backupDue(folder, at('2026-11-20T12:00:00'))).toBe(false)
    expect(backupDue(folder, at('2026-11-21T12:00:00'))).toBe(true)
    for (let day = 1; day <= 28; day++)
      for (const month of ['09', '10'])
        put(`2026-${month}-${String(day).padStart(2, '0')}T03:00:00`)
    for (let day = 14; day <= 19; day++) put(`2026-11-${day}T03:00:00`)
    pruneBackups(folder, at('2026-11-20T04:00:00'))
    expect(fs.readdirSync(backupsOf(folder)).map(n => n.slice(6, 16))).toEqual([
      '2026-09-28',
      '2026-10-28',
      '2026-11-14',
      '2026-11-15',
      '2026-11-16',
      '2026-11-17',
      '2026-11-18',
      '2026-11-19',
      '2026-11-20',
    ])
  })
  it('the daily round makes one, thins, and gives space back', async () => {
    taken()
    await within(async ({ db }) => {
      await db.insert(revisions).values(
        Array.from({ length: 400 }, (_, i) => ({
          designId: 'glaze-room',
          number: i + 2,
          words: 'x',
          document: glazeRoom(),
          createdAt: new Date(Date.now() - 60 * DAY + i * 1000),
        })),
      )
      await db.update(designs).set({ revision: 401 }).where(eq(designs.id, 'glaze-room'))
      const made = await keepHouse(db, folder, 'key')
      expect(made?.counts.revisions).toBe(401)
      expect(await listRevisions(db, 'glaze-room')).toHaveLength(NEWEST + 2)
      expect(await keepHouse(db, folder, 'key')).toBeNull()
    })
  })
})

describe('old revisions', () => {
  const now = new Date('2026-11-28T12:00:00Z')
  const list = (ages: number[]) =>
    ages.map((age, i) => ({ number: ages.length - i, createdAt: new Date(now.getTime() - age) }))
  it('a year of saves every minute of the day comes down to a few hundred; the newest hundred and the first stay', () => {
    const all = list(
      Array.from({ length: 365 * 200 }, (_, i) => Math.floor(i / 200) * DAY + (i % 200) * 60_000),
    )
    const gone = new Set(thinned(all, now))
    const kept = all.filter(r => !gone.has(r.number))
    expect(kept.length).toBeLessThan(500)
    expect(kept.slice(0, NEWEST).map(r => r.number)).toEqual(
      all.slice(0, NEWEST).map(r => r.number),
    )
    expect(kept.at(-1)?.number).toBe(1)
    // What was thinned once is not thinned again.
    expect(thinned(kept, now)).toEqual([])
  })
  it('of a few none goes, and in a database they go from that design alone', async () => {
    expect(thinned(list(Array.from({ length: NEWEST }, (_, i) => i * 400 * DAY)), now)).toEqual([])
    taken()
    await within(async ({ db }) => {
      await createDesign(db, starter(), 'x')
      expect(await thinRevisions(db, now)).toBe(0)
      expect(
        await db.select().from(revisions).where(eq(revisions.designId, starter().id)),
      ).toHaveLength(1)
      expect(await db.select().from(designs)).toHaveLength(2)
    })
  })
})

it('devices: paired, listed without anything to come in with, withdrawn', async () => {
  taken()
  await within(async ({ db }) => {
    const id = await addDevice(db, 'Phone', 'a'.repeat(64))
    expect(await listDevices(db)).toMatchObject([{ id, name: 'Phone' }])
    expect([
      await withdrawDevice(db, id!),
      await withdrawDevice(db, id!),
      (await listDevices(db)).length,
    ]).toEqual([true, false, 0])
  })
})
