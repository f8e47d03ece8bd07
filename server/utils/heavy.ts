/** Long work of the routes: handed to the workers, and what goes wrong there told as a refusal. */
import { availableParallelism } from 'node:os'
import { dirname, join } from 'node:path'
import type { H3Event } from 'h3'
import { Busy, Left, OverBudget, Pool } from '../workers/pool'
import type { Input, Kind } from '../workers/work'

const BUDGET_MS: Record<Kind, number> = {
  check: 30_000,
  validate: 10_000,
  files: 30_000,
  file: 30_000,
  zip: 30_000,
  bench: 60_000,
  proof: 120_000,
}
const LONG: readonly Kind[] = ['proof', 'bench']
const MEMORY_MB = 1500
const WAITING = 40

/** The worker lies beside the server it belongs to (nuxt.config.ts puts it there). */
const file = () => process.env.NOLVI_HEAVY ?? join(dirname(process.argv[1] ?? '.'), 'heavy.mjs')

export const heavy = new Pool(file(), {
  workers: Math.max(2, Math.min(4, availableParallelism() - 1)),
  waiting: WAITING,
  memoryMb: MEMORY_MB,
  budgetMs: kind => BUDGET_MS[kind],
  long: kind => LONG.includes(kind),
})

/** Bytes of the answer. Ends with the asker. */
export async function work<K extends Kind>(
  event: H3Event,
  kind: K,
  input: Input<K>,
): Promise<Buffer> {
  const gone = new AbortController()
  const { res } = event.node
  const left = () => gone.abort()
  res.once('close', left)
  try {
    const outcome = await heavy.run(kind, input, gone.signal)
    if ('refused' in outcome) throw refuse(outcome.refused.status, outcome.refused.message)
    return Buffer.from(outcome.bytes.buffer, outcome.bytes.byteOffset, outcome.bytes.byteLength)
  } catch (error) {
    if (error instanceof Busy) {
      setHeader(event, 'retry-after', 5)
      throw refuse(429, 'Nolvi computes for others already', [
        { path: '', message: 'ask again in a few seconds' },
      ])
    }
    if (error instanceof OverBudget)
      throw refuse(
        422,
        `This is more than the server computes for one question: ${error.message}`,
        [
          {
            path: '',
            message:
              'ask for fewer loads or a shorter run, or let the browser compute it: its views have no such limit',
          },
        ],
      )
    if (error instanceof Left) throw refuse(503, 'Nobody waits for the answer any more')
    throw error
  } finally {
    res.off('close', left)
  }
}

/** An answer in JSON as it came from a worker. */
export async function workJson<K extends Kind>(
  event: H3Event,
  kind: K,
  input: Input<K>,
): Promise<Buffer> {
  const bytes = await work(event, kind, input)
  setHeader(event, 'content-type', 'application/json')
  return bytes
}
