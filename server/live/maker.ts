/**
 * Makes the program of a computer out of its folder, with the compiler of this machine. What was
 * compiled is kept: where only the design differs, its table and its pages are compiled anew.
 */
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { cpus } from 'node:os'
import { dirname, join } from 'node:path'
import type { ProgramFile } from '../../core/sides/program/engine-files'

/** Files that tell of one design alone. */
const OF_A_DESIGN: ReadonlySet<string> = new Set(['src/design.cpp', 'src/pages.cpp'])
/** Folders of compiled parts that are kept. */
const MOST_KEPT = 6
const MOST_WORDS = 2000

let found: boolean | null = null

/** Whether there is a compiler here, and `make`. */
export function canMake(): boolean {
  const there = (program: string) =>
    spawnSync(program, ['--version'], { stdio: 'ignore' }).status === 0
  return (found ??= there('g++') && there('make'))
}

export class Maker {
  /** What is being made in each folder. */
  private readonly making = new Map<string, Promise<unknown>>()

  constructor(private readonly root: string) {}

  /**
   * Compiles a folder whose program is called `name`; returns the path of the program as it was
   * made last there, which the next one replaces: it is copied at once. Rejects with the words of
   * the compiler, or where it was called off.
   */
  async make<T>(
    files: readonly ProgramFile[],
    name: string,
    signal: AbortSignal,
    made: (program: string) => T,
  ): Promise<T> {
    const folder = join(this.root, kindOf(files))
    // One after another in a folder: they write the same files.
    const before = this.making.get(folder) ?? Promise.resolve()
    const mine = before
      .catch(() => undefined)
      .then(async () => {
        signal.throwIfAborted()
        this.forgetOld(folder)
        writeAll(folder, files)
        await ran('make', [`-j${cpus().length}`, 'CXXFLAGS=-O1', `build/${name}`], folder, signal)
        return made(join(folder, 'build', name))
      })
    this.making.set(folder, mine)
    try {
      return await mine
    } finally {
      if (this.making.get(folder) === mine) this.making.delete(folder)
    }
  }

  private forgetOld(used: string): void {
    mkdirSync(used, { recursive: true })
    const now = new Date()
    utimesSync(used, now, now)
    const kept = readdirSync(this.root)
      .map(name => join(this.root, name))
      .filter(path => path !== used && !this.making.has(path))
      .toSorted((a, b) => statSync(b).mtimeMs - statSync(a).mtimeMs)
    for (const path of kept.slice(MOST_KEPT - 1)) rmSync(path, { recursive: true, force: true })
  }
}

/** Designs that differ in their tables and pages alone share what is compiled of the rest. */
function kindOf(files: readonly ProgramFile[]): string {
  const hash = createHash('sha256')
  for (const { path, text } of files)
    if (path.startsWith('src/') && !OF_A_DESIGN.has(path)) hash.update(`${path}\n${text}\n`)
  return hash.digest('hex').slice(0, 24)
}

/** A file that is the same already keeps its time, so that it is not compiled again. */
function writeAll(folder: string, files: readonly ProgramFile[]): void {
  for (const { path, text } of files) {
    const at = join(folder, path)
    if (existsSync(at) && readFileSync(at, 'utf8') === text) continue
    mkdirSync(dirname(at), { recursive: true })
    writeFileSync(at, text)
  }
}

/** Ends with everything that it started when it is called off. */
function ran(
  program: string,
  args: readonly string[],
  cwd: string,
  signal: AbortSignal,
): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd, detached: true, stdio: ['ignore', 'ignore', 'pipe'] })
    let words = ''
    const end = () => {
      try {
        process.kill(-(child.pid as number), 'SIGKILL')
      } catch {
        /* it is gone already */
      }
    }
    signal.addEventListener('abort', end, { once: true })
    child.stderr.on('data', piece => (words = (words + String(piece)).slice(0, MOST_WORDS)))
    child.on('error', reject)
    child.on('close', code => {
      signal.removeEventListener('abort', end)
      if (signal.aborted) reject(new Error('called off'))
      else if (code === 0) resolve()
      else reject(new Error(words || `${program} ended with ${code}`))
    })
  })
}
