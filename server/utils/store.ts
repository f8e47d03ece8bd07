/** The one open database of this process; routes await it. */
import type { Database, Opened } from '../db/database'

let opened: Promise<Opened> | null = null

export function setStore(opening: Promise<Opened>): void {
  opened = opening
}

export async function useStore(): Promise<Database> {
  if (!opened) throw new Error('the store is not open')
  return (await opened).db
}

export async function closeStore(): Promise<void> {
  const last = opened
  opened = null
  await (await last)?.close()
}
