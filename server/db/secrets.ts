/** Secrets of links. They go to stand-ins and to builds that ask for them, and nowhere else. */
import { and, eq } from 'drizzle-orm'
import type { Database } from './database'
import { secrets } from './schema'

/** By link. */
export async function secretsOf(db: Database, designId: string): Promise<Record<string, string>> {
  const rows = await db.select({ linkId: secrets.linkId, value: secrets.value }).from(secrets).where(eq(secrets.designId, designId))
  return Object.fromEntries(rows.map(r => [r.linkId, r.value]))
}

/** Which links have one, and since when. */
export async function secretDates(db: Database, designId: string): Promise<Record<string, string>> {
  const rows = await db.select({ linkId: secrets.linkId, setAt: secrets.setAt }).from(secrets).where(eq(secrets.designId, designId))
  return Object.fromEntries(rows.map(r => [r.linkId, r.setAt.toISOString()]))
}

export async function setSecret(db: Database, designId: string, linkId: string, value: string): Promise<void> {
  await db.insert(secrets).values({ designId, linkId, value }).onConflictDoUpdate({ target: [secrets.designId, secrets.linkId], set: { value, setAt: new Date() } })
}

export async function forgetSecret(db: Database, designId: string, linkId: string): Promise<void> {
  await db.delete(secrets).where(and(eq(secrets.designId, designId), eq(secrets.linkId, linkId)))
}
