/**
 * The keys of this server. Guarded as soon as it listens on more than this machine's own address.
 */
import { isLoopback, KeyRing } from '../guard/keys'
import { listDevices } from '../db/devices'
import type { Database } from '../db/database'
import type { Gate } from '../live/front'

export const keys = new KeyRing(!isLoopback(process.env.NOLVI_HOST ?? '127.0.0.1'))

export async function readKeys(db: Database): Promise<void> {
  keys.setDevices(await listDevices(db))
}

/** Stand-ins ask for the same keys. */
export const keyGate: Gate = {
  allows: request => keys.allows(request),
  knows: address => keys.knows(address),
}
