/**
 * Whether what was kept earlier can still be played: a design moves on, and a script may name what
 * is gone.
 */
import { partOf } from '../design/part'
import type { Design } from '../design/schema'
import { runScript } from './bench'
import type { BenchScript } from './script'

/**
 * Empty where the script plays through on the controller of this load; else what is missing, in
 * words.
 */
export function missingFor(design: Design, loadId: string, script: BenchScript): string {
  const load = design.loads.find(l => l.id === loadId)
  if (!load) return `no load "${loadId}" in this design`
  try {
    runScript(partOf(design, load.controllerId), script)
    return ''
  } catch (error) {
    if (error instanceof RangeError) return error.message
    throw error
  }
}
