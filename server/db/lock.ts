/**
 * One server per data folder. PGlite has no lock of its own, and two writers would destroy the data. The lock file
 * names process and start time, so a lock left by a killed server, or a number given to another process, is seen through.
 */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

export class FolderInUse extends Error {}

interface Holder { pid: number, started: string }

/** Take the folder or throw `FolderInUse`. Returns the release. */
export function lockFolder(folder: string): () => void {
  mkdirSync(folder, { recursive: true })
  const file = join(folder, 'in-use.json')
  const mine = JSON.stringify({ pid: process.pid, started: startTime(process.pid) } satisfies Holder)
  for (let attempt = 0; ; attempt++) {
    try {
      writeFileSync(file, mine, { flag: 'wx' })
      return () => { if (readOrNull(file) === mine) rmSync(file, { force: true }) }
    }
    catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST' || attempt > 3) throw error
      const holder = parseHolder(readOrNull(file))
      if (holder && isAlive(holder)) throw new FolderInUse(`The data folder ${folder} is in use by another Nolvi server (process ${holder.pid}). Stop that one, or start this one with another folder: NOLVI_DATA=<folder>.`)
      rmSync(file, { force: true })
    }
  }
}

function isAlive({ pid, started }: Holder): boolean {
  try { process.kill(pid, 0) }
  catch (error) { if ((error as NodeJS.ErrnoException).code === 'ESRCH') return false }
  const now = startTime(pid)
  return now === '' || started === '' || now === started
}

/** Start time of a process in clock ticks since boot, from /proc (field 22); empty where there is no /proc. */
function startTime(pid: number): string {
  const stat = readOrNull(`/proc/${pid}/stat`)
  return stat?.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? ''
}

function parseHolder(text: string | null): Holder | null {
  try {
    const value = JSON.parse(text ?? '') as Partial<Holder>
    return typeof value.pid === 'number' ? { pid: value.pid, started: String(value.started ?? '') } : null
  }
  catch { return null }
}

function readOrNull(file: string): string | null {
  try { return readFileSync(file, 'utf8') }
  catch { return null }
}
