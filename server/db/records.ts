/** Records of what was tried with a design. The newest thousand are kept. */
import { and, desc, eq, lt, sql } from 'drizzle-orm'
import type { DrillsRun, KeptRecord } from '../../core/bench/record'
import type { UploadRun } from '../../core/boards/upload-record'
import { commissioningIn, tally, type Commissioning } from '../../core/live/commissioning/record'
import type { MeasuredRun, Note, TriedRun } from '../../core/live/record'
import type { BuiltRecord } from '../../core/sides/as-built'
import type { ProofRun } from '../../core/proof/record'
import type { DesignSummary } from '../../core/design/summary'
import type { Database } from './database'
import { records } from './schema'

const MOST = 1000

export function keepDrills(
  db: Database,
  designId: string,
  { revision, title, results }: DrillsRun,
): Promise<number> {
  return keep(db, {
    designId,
    revision,
    kind: 'drills',
    title,
    passed: results.filter(r => r.passed).length,
    of: results.length,
    body: results,
  })
}

/** A promise that holds by timing is kept too. */
export function keepProof(
  db: Database,
  designId: string,
  { revision, title, results }: ProofRun,
): Promise<number> {
  return keep(db, {
    designId,
    revision,
    kind: 'proof',
    title,
    passed: results.filter(r => r.result === 'holds' || r.result === 'by timing').length,
    of: results.length,
    body: results,
  })
}

/** A board that was written to and read back. */
export function keepUpload(
  db: Database,
  designId: string,
  { revision, title, controllerId, chip, bytes, fingerprint }: UploadRun,
): Promise<number> {
  return keep(db, {
    designId,
    revision,
    kind: 'upload',
    title,
    passed: 1,
    of: 1,
    body: { controllerId, chip, bytes, fingerprint },
  })
}

/** Times of a link that were measured and taken over. */
export function keepMeasured(
  db: Database,
  designId: string,
  { kind, revision, title, ...body }: MeasuredRun,
): Promise<number> {
  return keep(db, {
    designId,
    revision,
    kind,
    title,
    passed: body.count,
    of: body.count + body.lost,
    body,
  })
}

/** A run as it stands; kept anew over what was kept of it before. Returns its id. */
export async function keepCommissioning(
  db: Database,
  designId: string,
  name: string,
  run: Commissioning,
  id: number | null,
): Promise<number> {
  const { kind, revision, ...body } = run
  const { passed, differs, of } = tally(run)
  const words = differs ? `${passed} of ${of} as designed, ${differs} differ` : `${passed} of ${of}`
  const record = {
    designId,
    revision,
    kind,
    title: `Commissioning of ${name}: ${words}`,
    passed,
    of,
    body,
  }
  if (id === null) return keep(db, record)
  await db.update(records).set(record).where(eq(records.id, id))
  return id
}

/** The run that was begun last; null where there was none. */
export async function lastCommissioning(
  db: Database,
  designId: string,
): Promise<{ id: number; run: Commissioning } | null> {
  const [row] = await db
    .select()
    .from(records)
    .where(and(eq(records.designId, designId), eq(records.kind, 'commissioning')))
    .orderBy(desc(records.id))
    .limit(1)
  const run = row ? commissioningIn(row) : null
  return row && run ? { id: row.id, run } : null
}

/** A board that was tried against the design. */
export function keepTried(
  db: Database,
  designId: string,
  { kind, revision, title, ...body }: TriedRun,
): Promise<number> {
  const passed = body.messages.passed + body.drills.passed
  return keep(db, {
    designId,
    revision,
    kind,
    title,
    passed,
    of: body.messages.of + body.drills.of,
    body,
  })
}

export function keepNote(
  db: Database,
  designId: string,
  { kind, revision, title, ...body }: Note,
): Promise<number> {
  return keep(db, { designId, revision, kind, title, passed: 1, of: 1, body })
}

async function keep(db: Database, record: typeof records.$inferInsert): Promise<number> {
  const { designId } = record
  const [row] = await db.insert(records).values(record).returning({ id: records.id })
  const [oldest] = await db
    .select({ id: records.id })
    .from(records)
    .where(eq(records.designId, designId))
    .orderBy(desc(records.id))
    .offset(MOST)
    .limit(1)
  if (oldest)
    await db
      .delete(records)
      .where(and(eq(records.designId, designId), lt(records.id, oldest.id + 1)))
  return row?.id ?? 0
}

/** The newest first. */
export async function listRecords(db: Database, designId: string): Promise<KeptRecord[]> {
  const rows = await db
    .select({
      id: records.id,
      revision: records.revision,
      kind: records.kind,
      title: records.title,
      passed: records.passed,
      of: records.of,
      createdAt: records.createdAt,
    })
    .from(records)
    .where(eq(records.designId, designId))
    .orderBy(desc(records.id))
    .limit(MOST)
  return rows.map(r => ({ ...r, createdAt: r.createdAt.toISOString() }))
}

/** What was done with boards and noted, whole, the newest first; of each kind the newest fifty. */
export async function boardRecords(db: Database, designId: string): Promise<BuiltRecord[]> {
  const kinds = ['upload', 'commissioning', 'measured', 'note']
  const lists = await Promise.all(
    kinds.map(kind =>
      db
        .select()
        .from(records)
        .where(and(eq(records.designId, designId), eq(records.kind, kind)))
        .orderBy(desc(records.id))
        .limit(50),
    ),
  )
  return lists
    .flat()
    .sort((a, b) => b.id - a.id)
    .map(r => ({ ...r, at: r.createdAt.toISOString() }))
}

/** What was written last onto the boards of each design, by its id; the newest board first. */
export async function lastWritten(db: Database): Promise<Map<string, DesignSummary['boards']>> {
  const controllerId = sql<string>`${records.body}->>'controllerId'`
  const rows = await db
    .selectDistinctOn([records.designId, controllerId], {
      id: records.id,
      designId: records.designId,
      controllerId,
      fingerprint: sql<string>`${records.body}->>'fingerprint'`,
      at: records.createdAt,
    })
    .from(records)
    .where(eq(records.kind, 'upload'))
    .orderBy(records.designId, controllerId, desc(records.id))
  const written = new Map<string, DesignSummary['boards']>()
  for (const { designId, controllerId, fingerprint, at } of rows.sort((a, b) => b.id - a.id)) {
    const board = { controllerId, fingerprint, at: at.toISOString() }
    written.set(designId, [...(written.get(designId) ?? []), board])
  }
  return written
}

/** The last proof of each design. */
export async function lastProved(db: Database): Promise<Map<string, DesignSummary['proved']>> {
  const rows = await db
    .selectDistinctOn([records.designId], {
      designId: records.designId,
      passed: records.passed,
      of: records.of,
      revision: records.revision,
    })
    .from(records)
    .where(eq(records.kind, 'proof'))
    .orderBy(records.designId, desc(records.id))
  return new Map(rows.map(({ designId, ...proved }) => [designId, proved]))
}

export async function recordBody(db: Database, designId: string, id: number): Promise<unknown> {
  return (await keptRecord(db, designId, id))?.body ?? null
}

/** Whole, as it is stored; null where there is none. */
export async function keptRecord(
  db: Database,
  designId: string,
  id: number,
): Promise<typeof records.$inferSelect | null> {
  const [row] = await db
    .select()
    .from(records)
    .where(and(eq(records.designId, designId), eq(records.id, id)))
  return row ?? null
}
