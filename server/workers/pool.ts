/**
 * Workers for what takes long. A thing waits in a queue for a free one, has a budget of time and
 * memory, and ends when who asked goes away: then its worker ends with it. Things that may take
 * very long never hold all workers at once, so that short ones come through.
 */
import { Worker } from 'node:worker_threads'
import type { Input, Kind, Outcome } from './work'

export class Busy extends Error {}
export class OverBudget extends Error {}
/** Who asked is gone: there is nobody to answer. */
export class Left extends Error {}

interface Limits {
  workers: number
  waiting: number
  memoryMb: number
  budgetMs: (kind: Kind) => number
  long: (kind: Kind) => boolean
}
interface Job {
  kind: Kind
  input: unknown
  done: (outcome: Outcome) => void
  failed: (error: Error) => void
  signal: AbortSignal | undefined
}

export class Pool {
  private readonly free: Worker[] = []
  private readonly queue: Job[] = []
  private readonly running = new Map<Worker, Job>()

  constructor(
    private readonly file: string,
    private readonly limits: Limits,
  ) {}

  /** Rejects with `Busy`, `OverBudget`, `Left`, or the error of the worker. */
  run<K extends Kind>(
    kind: K,
    input: Input<K>,
    signal?: AbortSignal,
  ): Promise<Exclude<Outcome, { failed: string }>> {
    return new Promise((resolve, reject) => {
      if (signal?.aborted) return reject(new Left('who asked is gone'))
      if (this.queue.length >= this.limits.waiting)
        return reject(new Busy(`${this.queue.length} things wait already`))
      const job: Job = {
        kind,
        input,
        signal,
        failed: reject,
        done: outcome =>
          'failed' in outcome ? reject(new Error(outcome.failed)) : resolve(outcome),
      }
      signal?.addEventListener('abort', () => this.leave(job), { once: true })
      this.queue.push(job)
      this.next()
    })
  }

  get waiting(): number {
    return this.queue.length
  }

  async close(): Promise<void> {
    for (const job of this.queue.splice(0)) job.failed(new Left('the server ends'))
    const workers = [...this.free.splice(0), ...this.running.keys()]
    for (const job of this.running.values()) job.failed(new Left('the server ends'))
    this.running.clear()
    await Promise.all(workers.map(w => w.terminate()))
  }

  private next(): void {
    const { workers, long } = this.limits
    if (this.running.size >= workers) return
    const longOnes = [...this.running.values()].filter(j => long(j.kind)).length
    const at = this.queue.findIndex(j => !long(j.kind) || longOnes < Math.max(1, workers - 1))
    const [job] = at < 0 ? [] : this.queue.splice(at, 1)
    if (!job) return
    const worker = this.free.pop() ?? this.hire()
    this.running.set(worker, job)
    const over = setTimeout(
      () =>
        this.fire(
          worker,
          new OverBudget(`it took longer than ${this.limits.budgetMs(job.kind) / 1000} s`),
        ),
      this.limits.budgetMs(job.kind),
    )
    worker.removeAllListeners()
    worker.on('error', (error: NodeJS.ErrnoException) => {
      clearTimeout(over)
      this.fire(
        worker,
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? new OverBudget(`it needs more than ${this.limits.memoryMb} MB of memory`)
          : error,
      )
    })
    worker.on('exit', () => {
      clearTimeout(over)
      this.fire(worker, new Error('the worker ended'))
    })
    worker.once('message', (outcome: Outcome) => {
      clearTimeout(over)
      this.running.delete(worker)
      worker.removeAllListeners()
      // One that dies while it has nothing to do is not missed.
      worker.on('error', () => undefined)
      worker.on('exit', () => {
        const i = this.free.indexOf(worker)
        if (i >= 0) this.free.splice(i, 1)
      })
      worker.unref()
      this.free.push(worker)
      job.done(outcome)
      this.next()
    })
    worker.ref()
    worker.postMessage({ kind: job.kind, input: job.input })
    this.next()
  }

  private hire(): Worker {
    return new Worker(this.file, {
      resourceLimits: { maxOldGenerationSizeMb: this.limits.memoryMb },
      stdout: false,
      stderr: false,
    })
  }

  private leave(job: Job): void {
    const at = this.queue.indexOf(job)
    if (at >= 0) {
      this.queue.splice(at, 1)
      job.failed(new Left('who asked is gone'))
      return
    }
    const worker = [...this.running].find(([, j]) => j === job)?.[0]
    if (worker) this.fire(worker, new Left('who asked is gone'))
  }

  /** The worker ends with what it was doing. */
  private fire(worker: Worker, why: Error): void {
    const job = this.running.get(worker)
    if (!job) return
    this.running.delete(worker)
    worker.removeAllListeners()
    worker.on('error', () => undefined)
    void worker.terminate()
    job.failed(why)
    this.next()
  }
}
