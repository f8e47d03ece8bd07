/** The worker: does one thing after another and hands over the bytes of each answer. */
import { setPriority } from 'node:os'
import { parentPort } from 'node:worker_threads'
import { Refused, WORK, type Kind, type Outcome } from './work'

// Whoever answers comes first. Where priorities are those of threads this one alone steps back.
if (process.platform === 'linux') setPriority(0, 10)

parentPort?.on('message', ({ kind, input }: { kind: Kind; input: never }) => {
  let outcome: Outcome
  try {
    outcome = { bytes: WORK[kind](input) }
  } catch (error) {
    outcome =
      error instanceof Refused
        ? { refused: { status: error.status, message: error.message } }
        : { failed: (error as Error).stack ?? String(error) }
  }
  const whole =
    'bytes' in outcome
    && outcome.bytes.byteOffset === 0
    && outcome.bytes.byteLength === outcome.bytes.buffer.byteLength
  parentPort?.postMessage(
    outcome,
    whole && 'bytes' in outcome ? [outcome.bytes.buffer as ArrayBuffer] : [],
  )
})
