/**
 * Designs and their revisions. A save is one transaction: it lands whole with its revision number,
 * or not at all.
 */
import { and, desc, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm'
import { freshId } from '../../core/design/ids'
import { fingerprint } from '../../core/design/fingerprint'
import { DESIGN_VERSION, type Design } from '../../core/design/schema'
import type { DesignSummary } from '../../core/design/summary'
import { validateDesign } from '../../core/design/validate'
import type { Database } from './database'
import { lastProved, lastWritten } from './records'
import { designs, revisions } from './schema'

export interface StoredDesign {
  design: Design
  revision: number
  updatedAt: string
  fingerprint: string
}
/** What is stored under an id cannot be read as a design by this Nolvi. It stays as it is. */
export class Unreadable extends Error {}
export interface RevisionSummary {
  number: number
  words: string
  createdAt: string
}
export type Saved =
  | { kind: 'saved'; revision: number; fingerprint: string }
  | { kind: 'stale'; revision: number }
  | { kind: 'missing' }
/** Versions of documents that this Nolvi reads: over others nothing is saved. */
const READ = Array.from({ length: DESIGN_VERSION }, (_, i) => String(i + 1))

const KEPT_DAYS = 30

/**
 * A stored document as one of the newest version: one of an older version is stored anew with the
 * next change. Throws `Unreadable`.
 */
function newest(document: Design): Design {
  if (
    (document as { version?: unknown } | null)?.version === DESIGN_VERSION
    && Array.isArray(document.loads)
  )
    return document
  const checked = validateDesign(document)
  if (!checked.ok)
    throw new Unreadable(
      checked.problems
        .slice(0, 3)
        .map(p => `${p.path} ${p.message}`.trim())
        .join('; '),
    )
  return checked.design
}

/** One that cannot be read is listed with the reason; the others are not held up by it. */
export async function listDesigns(db: Database): Promise<DesignSummary[]> {
  const boards = await lastWritten(db)
  const proved = await lastProved(db)
  const rows = await db
    .select()
    .from(designs)
    .where(isNull(designs.deletedAt))
    .orderBy(desc(designs.updatedAt), designs.id)
  return rows.map(r => {
    const row = {
      id: r.id,
      name: r.name,
      place: r.place,
      revision: r.revision,
      updatedAt: r.updatedAt.toISOString(),
      boards: boards.get(r.id) ?? [],
      proved: proved.get(r.id) ?? null,
    }
    try {
      const design = newest(r.document)
      return {
        ...row,
        loads: design.loads.length,
        fingerprint: fingerprint(design),
        unreadable: null,
      }
    } catch (error) {
      return {
        ...row,
        loads: 0,
        fingerprint: '',
        unreadable: (error as Error).message.slice(0, 300),
      }
    }
  })
}

/** The document as it is stored, read or not. */
export async function rawDesign(db: Database, id: string): Promise<unknown> {
  const [row] = await db
    .select({ document: designs.document })
    .from(designs)
    .where(and(eq(designs.id, id), isNull(designs.deletedAt)))
  return row?.document ?? null
}

export async function maybeDesign(db: Database, id: string): Promise<StoredDesign | null> {
  const [row] = await db
    .select()
    .from(designs)
    .where(and(eq(designs.id, id), isNull(designs.deletedAt)))
  if (!row) return null
  const design = newest(row.document)
  return {
    design,
    revision: row.revision,
    updatedAt: row.updatedAt.toISOString(),
    fingerprint: fingerprint(design),
  }
}

/** Stores a new design; an id that is taken gets a number. */
export async function createDesign(
  db: Database,
  design: Design,
  words: string,
): Promise<StoredDesign> {
  return db.transaction(async tx => {
    const taken = await tx.select({ id: designs.id }).from(designs)
    const id = taken.some(t => t.id === design.id) ? freshId(design.id, 'design', taken) : design.id
    const document: Design = { ...design, id }
    const [row] = await tx
      .insert(designs)
      .values({ id, name: design.name, place: design.place, revision: 1, document })
      .returning()
    await tx.insert(revisions).values({ designId: id, number: 1, words, document })
    return {
      design: document,
      revision: 1,
      updatedAt: (row?.updatedAt ?? new Date()).toISOString(),
      fingerprint: fingerprint(document),
    }
  })
}

/**
 * Save on top of `baseRevision`; answers `stale` when the stored revision is newer, and then
 * changes nothing. Throws `Unreadable` rather than save over what it cannot read.
 */
export async function saveDesign(
  db: Database,
  id: string,
  baseRevision: number,
  design: Design,
  words: string,
): Promise<Saved> {
  const readable = sql`${designs.document}->>'version' in ${READ}`
  // One statement: it is its own transaction, and the document goes to the database once.
  const {
    rows: [saved],
  } = await db.execute<{ number: number }>(sql`
    with saved as (
      update ${designs} set revision = revision + 1, document = ${JSON.stringify(design)}::json, name = ${design.name}, place = ${design.place}, updated_at = now()
      where ${designs.id} = ${id} and ${designs.revision} = ${baseRevision} and ${designs.deletedAt} is null and ${readable}
      returning id, revision, document
    )
    insert into ${revisions} (design_id, number, words, document) select id, revision, ${words}, document from saved
    returning number`)
  if (saved) return { kind: 'saved', revision: saved.number, fingerprint: fingerprint(design) }
  const [now] = await db
    .select({ revision: designs.revision })
    .from(designs)
    .where(and(eq(designs.id, id), isNull(designs.deletedAt)))
  if (now?.revision === baseRevision) throw new Unreadable('what is stored is of another version')
  return now ? { kind: 'stale', revision: now.revision } : { kind: 'missing' }
}

/** The newest first, `limit` of them, those before `before` where it is given. */
export async function listRevisions(
  db: Database,
  id: string,
  { before = null, limit = 1000 }: { before?: number | null; limit?: number } = {},
): Promise<RevisionSummary[]> {
  const rows = await db
    .select({ number: revisions.number, words: revisions.words, createdAt: revisions.createdAt })
    .from(revisions)
    .where(
      and(eq(revisions.designId, id), before === null ? undefined : lt(revisions.number, before)),
    )
    .orderBy(desc(revisions.number))
    .limit(limit)
  return rows.map(r => ({ ...r, createdAt: r.createdAt.toISOString() }))
}

export async function maybeRevision(
  db: Database,
  id: string,
  number: number,
): Promise<(RevisionSummary & { design: Design }) | null> {
  const [row] = await db
    .select()
    .from(revisions)
    .where(and(eq(revisions.designId, id), eq(revisions.number, number)))
  return row
    ? {
        number: row.number,
        words: row.words,
        createdAt: row.createdAt.toISOString(),
        design: newest(row.document),
      }
    : null
}

/** Revisions whose fingerprints are known. */
const PRINTED = 100

/** By fingerprint, the newest revision that had it, of the last hundred that can be read. */
export async function printsOf(db: Database, id: string): Promise<Record<string, number>> {
  const rows = await db
    .select({ number: revisions.number, document: revisions.document })
    .from(revisions)
    .where(eq(revisions.designId, id))
    .orderBy(desc(revisions.number))
    .limit(PRINTED)
  const prints: Record<string, number> = {}
  for (const { number, document } of rows)
    try {
      prints[fingerprint(newest(document))] ??= number
    } catch (error) {
      if (!(error instanceof Unreadable)) throw error
    }
  return prints
}

/** True when there was something to delete or restore. */
export async function setDeleted(db: Database, id: string, deleted: boolean): Promise<boolean> {
  const rows = await db
    .update(designs)
    .set({ deletedAt: deleted ? new Date() : null })
    .where(
      and(eq(designs.id, id), deleted ? isNull(designs.deletedAt) : isNotNull(designs.deletedAt)),
    )
    .returning({ id: designs.id })
  return rows.length > 0
}

export async function forgetDeleted(db: Database, now = new Date()): Promise<void> {
  await db
    .delete(designs)
    .where(lt(designs.deletedAt, new Date(now.getTime() - KEPT_DAYS * 86_400_000)))
}
