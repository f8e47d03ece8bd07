/** Devices that were paired. */
import { desc, eq } from 'drizzle-orm'
import type { Database } from './database'
import { devices } from './schema'

const MOST = 100

export interface PairedDevice {
  id: number
  name: string
  keyHash: string
  pairedAt: string
}

export async function listDevices(db: Database): Promise<PairedDevice[]> {
  const rows = await db.select().from(devices).orderBy(desc(devices.id)).limit(MOST)
  return rows.map(r => ({ ...r, pairedAt: r.pairedAt.toISOString() }))
}

/** Null when there are as many as may be. */
export async function addDevice(
  db: Database,
  name: string,
  keyHash: string,
): Promise<number | null> {
  if ((await listDevices(db)).length >= MOST) return null
  const [row] = await db.insert(devices).values({ name, keyHash }).returning({ id: devices.id })
  return row?.id ?? null
}

export async function withdrawDevice(db: Database, id: number): Promise<boolean> {
  return (
    (await db.delete(devices).where(eq(devices.id, id)).returning({ id: devices.id })).length > 0
  )
}
