/**
 * Which old revisions are kept, so that a folder does not grow without end: the newest hundred; of
 * the last week one in ten minutes; of the last three months one a day; before that one a month;
 * and the first. Of several in one such time the last is kept.
 */
import { and, eq, inArray } from 'drizzle-orm'
import type { Database } from './database'
import { revisions } from './schema'

export const NEWEST = 100
const MINUTE = 60_000
const DAY = 86_400_000
const STEPS = [
  { youngerThan: 7 * DAY, each: 10 * MINUTE },
  { youngerThan: 90 * DAY, each: DAY },
  { youngerThan: Infinity, each: 30 * DAY },
]

/** Numbers of the revisions that go. */
export function thinned(list: readonly { number: number; createdAt: Date }[], now: Date): number[] {
  const newestFirst = [...list].sort((a, b) => b.number - a.number)
  const taken = new Set<string>()
  return newestFirst.flatMap(({ number, createdAt }, i) => {
    if (i < NEWEST || number === 1) return []
    const age = now.getTime() - createdAt.getTime()
    const { each } = STEPS.find(s => age < s.youngerThan) ?? (STEPS[0] as (typeof STEPS)[number])
    const slot = `${each} ${Math.floor(createdAt.getTime() / each)}`
    if (taken.has(slot)) return [number]
    taken.add(slot)
    return []
  })
}

export async function thinRevisions(db: Database, now = new Date()): Promise<number> {
  const rows = await db
    .select({
      designId: revisions.designId,
      number: revisions.number,
      createdAt: revisions.createdAt,
    })
    .from(revisions)
  let gone = 0
  for (const [designId, list] of grouped(rows)) {
    const numbers = thinned(list, now)
    for (let from = 0; from < numbers.length; from += 500)
      await db
        .delete(revisions)
        .where(
          and(
            eq(revisions.designId, designId),
            inArray(revisions.number, numbers.slice(from, from + 500)),
          ),
        )
    gone += numbers.length
  }
  return gone
}

function grouped<T extends { designId: string }>(rows: readonly T[]): Map<string, T[]> {
  const by = new Map<string, T[]>()
  for (const row of rows) {
    const list = by.get(row.designId)
    if (list) list.push(row)
    else by.set(row.designId, [row])
  }
  return by
}
