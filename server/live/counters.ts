/**
 * Counters of signed commands that stand-ins have taken, kept in a file of the data folder: a
 * stand-in that is started anew refuses what was taken before, as a board does whose power was cut.
 */
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { DEVICES } from '../../core/bytes/signing'
import type { ReplayWindow } from '../../core/messages/sealing'

export interface CounterStore {
  read: (key: string) => ReplayWindow | undefined
  write: (key: string, window: ReplayWindow) => void
}

const whole = z.number().int().min(0).max(0xffffffff)
const file = z.record(
  z.string(),
  z.array(z.strictObject({ highest: whole, taken: whole })).length(DEVICES),
)

export function countersIn(folder: string): CounterStore {
  const path = join(folder, 'stand-in-counters.json')
  const known = readKnown(path)
  return {
    read: key => known[key],
    write(key, window) {
      known[key] = [...window]
      mkdirSync(folder, { recursive: true })
      // A cut in between leaves the file that was there.
      writeFileSync(`${path}.new`, JSON.stringify(known))
      renameSync(`${path}.new`, path)
    },
  }
}

function readKnown(path: string): z.infer<typeof file> {
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch {
    return {}
  }
  const read = file.safeParse(JSON.parse(text))
  if (!read.success)
    throw new Error(
      `${path} holds no counters: put it away, and every stand-in begins to count anew`,
    )
  return read.data
}
