/**
 * The data folder as the embedded PostgreSQL sees it, with what is missing in the one that ships:
 * `fsync`. Without it a commit is acknowledged while it still lies in the memory of the operating
 * system, and a power cut takes it.
 */
import fs from 'node:fs'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { NodeFS } from '@electric-sql/pglite/nodefs'

interface Stream {
  nfd?: number
}
interface Mounted {
  NODEFS: {
    tryFSOperation: (operation: () => void) => void
    stream_ops: { fsync?: (stream: Stream) => number }
  }
}

export class DurableFs extends NodeFS {
  override async init(
    ...[client, options]: Parameters<NodeFS['init']>
  ): ReturnType<NodeFS['init']> {
    const made = await super.init(client, options)
    const flushes = (module: unknown) => {
      const { NODEFS } = module as Mounted
      NODEFS.stream_ops.fsync = ({ nfd }) => {
        // An error becomes one of the system that PostgreSQL is made for: a commit that could not
        // be flushed is not acknowledged.
        if (nfd !== undefined) NODEFS.tryFSOperation(() => fs.fsyncSync(nfd))
        return 0
      }
    }
    made.emscriptenOpts.preRun = [...[made.emscriptenOpts.preRun ?? []].flat(), flushes]
    return made
  }
}

/**
 * How PostgreSQL is started: as PGlite starts it, but for `-F`, which switches flushing off.
 * `fsync` is what the file system above offers. The log of a store so small is kept small too.
 */
export const START_PARAMS = [
  ...PGlite.defaultStartParams.filter(p => p !== '-F'),
  '-c',
  'wal_sync_method=fsync',
  '-c',
  'max_wal_size=64MB',
  '-c',
  'min_wal_size=32MB',
]

/** Flushes every file and folder below `path`: what was just made as a whole. */
export function flushTree(path: string): void {
  if (fs.lstatSync(path).isDirectory())
    for (const name of fs.readdirSync(path)) flushTree(join(path, name))
  flush(path)
}

export function flush(path: string): void {
  const descriptor = fs.openSync(path, 'r')
  try {
    fs.fsyncSync(descriptor)
  } finally {
    fs.closeSync(descriptor)
  }
}

/**
 * A file that is there whole or not at all, whatever is cut in between. `mode` for a file that is
 * made anew.
 */
export function writeWhole(path: string, content: string | Uint8Array, mode = 0o600): void {
  const beside = `${path}.new`
  const descriptor = fs.openSync(beside, 'w', mode)
  try {
    fs.writeFileSync(descriptor, content)
    fs.fsyncSync(descriptor)
  } finally {
    fs.closeSync(descriptor)
  }
  fs.renameSync(beside, path)
  flush(join(path, '..'))
}
