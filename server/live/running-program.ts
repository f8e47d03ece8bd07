/**
 * A program that runs on this machine with its pins in a folder: it is told what stands on its pins
 * and what its sensors give, and asked what its loads are, line by line over its standard input.
 */
import { spawn, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { createInterface } from 'node:readline'

const MOST_WORDS = 500

export class RunningProgram {
  /** Ports that it opened, in the order in which it said so, by what they are for. */
  readonly ports: { what: string; port: number }[] = []
  private readonly child: ChildProcess
  private readonly waiting: ((answer: string) => void)[] = []
  private words = ''
  private ending = false

  /** `folder`: with its settings, and its pins in `pins`. `ended`: by itself, and why. */
  constructor(
    private readonly folder: string,
    ended: (words: string) => void,
  ) {
    this.child = spawn(join(folder, 'program'), [join(folder, 'nolvi.conf')], {
      stdio: ['pipe', 'pipe', 'pipe'],
    })
    this.child.stdin?.on('error', () => undefined)
    this.child.stderr?.on('data', piece => {
      this.words = (this.words + String(piece)).slice(0, MOST_WORDS)
    })
    this.child.on('error', error => (this.words = error.message))
    this.child.on('close', code => {
      for (const answer of this.waiting.splice(0)) answer('')
      if (!this.ending) ended(this.words.trim() || `it ended with ${code}`)
    })
    if (!this.child.stdout) return
    createInterface({ input: this.child.stdout }).on('line', line => {
      const [what = '', port] = line.split(' ')
      // A port that it opened, or the time, as the answer to a line.
      if (/^[a-z]/.test(what)) this.ports.push({ what, port: Number(port) })
      else this.waiting.shift()?.(line)
    })
  }

  /** A line, and its answer: the time, and what was asked for; "" where it is gone. */
  told(line: string): Promise<string> {
    return new Promise(resolve => {
      if (this.ending || this.child.exitCode !== null) return resolve('')
      this.waiting.push(resolve)
      this.child.stdin?.write(`${line}\n`)
    })
  }

  /** Values of all loads, as the engine numbers them; empty where it is gone. */
  async values(): Promise<number[]> {
    return (await this.told('values')).split(' ').slice(1).map(Number)
  }

  /** The level that stands on a pin; null where nothing was put there yet. */
  pin(chip: number): string | null {
    try {
      return readFileSync(join(this.folder, 'pins', `pin${chip}`), 'utf8').trim()
    } catch {
      return null
    }
  }

  /** As when its power is cut. */
  kill(): void {
    this.ending = true
    this.child.kill('SIGKILL')
  }
}
