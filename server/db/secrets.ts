/**
 * Secrets of links. They go to stand-ins and to builds that ask for them, and nowhere else; at rest
 * they are sealed.
 */
import { and, eq } from 'drizzle-orm'
import type { Database } from './database'
import { secrets } from './schema'
import type { Vault } from './vault'

const about = (designId: string, linkId: string) => `${designId} ${linkId}`

/**
 * By link. One that was sealed with another key (a restored backup of another machine) counts as
 * not set.
 */
export async function secretsOf(
  db: Database,
  vault: Vault,
  designId: string,
): Promise<Record<string, string>> {
  const rows = await db
    .select({ linkId: secrets.linkId, value: secrets.value, sealed: secrets.sealed })
    .from(secrets)
    .where(eq(secrets.designId, designId))
  return Object.fromEntries(
    rows.flatMap(r => {
      const plain = r.sealed ? vault.open(r.value, about(designId, r.linkId)) : r.value
      return plain === null ? [] : [[r.linkId, plain]]
    }),
  )
}

/** Which links have one, and since when. */
export async function secretDates(db: Database, designId: string): Promise<Record<string, string>> {
  const rows = await db
    .select({ linkId: secrets.linkId, setAt: secrets.setAt })
    .from(secrets)
    .where(eq(secrets.designId, designId))
  return Object.fromEntries(rows.map(r => [r.linkId, r.setAt.toISOString()]))
}

export async function setSecret(
  db: Database,
  vault: Vault,
  designId: string,
  linkId: string,
  plain: string,
): Promise<void> {
  const value = vault.seal(plain, about(designId, linkId))
  await db
    .insert(secrets)
    .values({ designId, linkId, value, sealed: true })
    .onConflictDoUpdate({
      target: [secrets.designId, secrets.linkId],
      set: { value, sealed: true, setAt: new Date() },
    })
}

export async function forgetSecret(db: Database, designId: string, linkId: string): Promise<void> {
  await db.delete(secrets).where(and(eq(secrets.designId, designId), eq(secrets.linkId, linkId)))
}

/** Seals what an earlier version kept open. */
export async function sealAll(db: Database, vault: Vault): Promise<void> {
  for (const { designId, linkId, value } of await db
    .select()
    .from(secrets)
    .where(eq(secrets.sealed, false))) {
    await db
      .update(secrets)
      .set({ value: vault.seal(value, about(designId, linkId)), sealed: true })
      .where(and(eq(secrets.designId, designId), eq(secrets.linkId, linkId)))
  }
}
