/**
 * One server per data folder. PGlite has no lock of its own, and two writers would destroy the
 * data. The lock is a socket whose name is made of the folder itself: the system gives it to one
 * process and takes it back when that process ends, however it ends, so no lock is ever left
 * behind, and no race is between looking and taking. A file beside it only tells who has it.
 * Servers in containers of their own do not see each other's sockets: they must not share a folder.
 */
import { createHash } from 'node:crypto'
import { readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { connect, createServer, type Server } from 'node:net'
import { join } from 'node:path'
import { prepareFolder } from './folder'

export class FolderInUse extends Error {}

/**
 * Take the folder or throw `FolderInUse`, or `StoreTrouble` where it cannot be used at all. Returns
 * the release.
 */
export async function lockFolder(folder: string): Promise<() => Promise<void>> {
  // What cannot be used is told before anything is laid into it.
  prepareFolder(folder)
  const file = join(folder, 'in-use.json')
  const server = await held(socketOf(folder))
  if (!server)
    throw new FolderInUse(
      `The data folder ${folder} is in use by another Nolvi server${holder(file)}. Stop that one, or start this one with another folder: NOLVI_DATA=<folder>.`,
    )
  const mine = JSON.stringify({ pid: process.pid })
  writeFileSync(file, mine)
  return async () => {
    if (readOrNull(file) === mine) rmSync(file, { force: true })
    await new Promise(done => server.close(done))
  }
}

/** Two paths of one folder give one name. */
function socketOf(folder: string): string {
  const { dev, ino } = statSync(folder, { bigint: true })
  const name = createHash('sha256').update(`${dev} ${ino}`).digest('hex').slice(0, 32)
  if (process.platform === 'linux') return `\0nolvi-${name}`
  return process.platform === 'win32' ? `\\\\.\\pipe\\nolvi-${name}` : join(folder, 'in-use.sock')
}

/** The socket, listening; null when another process has it. */
async function held(name: string): Promise<Server | null> {
  const server = createServer(peer => peer.destroy())
  // It is held as long as the process lives and keeps no process alive.
  server.unref()
  const refused = await new Promise<NodeJS.ErrnoException | null>(done => {
    server.once('error', done)
    server.listen(name, () => done(null))
  })
  if (!refused) return server
  if (refused.code !== 'EADDRINUSE') throw refused
  // A socket that is a file outlives who made it.
  if (!name.startsWith('/') || (await answers(name))) return null
  rmSync(name, { force: true })
  return held(name)
}

function answers(name: string): Promise<boolean> {
  return new Promise(done => {
    const peer = connect(name, () => {
      peer.destroy()
      done(true)
    })
    peer.once('error', () => done(false))
  })
}

/** What the file says about who has it; nothing where it says nothing that can be read. */
function holder(file: string): string {
  try {
    const { pid } = JSON.parse(readOrNull(file) ?? '') as { pid?: unknown }
    return Number.isInteger(pid) ? ` (process ${String(pid)})` : ''
  } catch {
    return ''
  }
}

function readOrNull(file: string): string | null {
  try {
    return readFileSync(file, 'utf8')
  } catch {
    return null
  }
}
