/** One sum beside the part that it belongs to: what it was given, what it came to, what helps. */
import type { Edit } from '../design/edits/edits'
import { showQuantity } from '../units/quantity'
import { PULL_UP_DEFAULTS } from './pull-up'
import { BadInput, type Sum } from './sum'

export interface WiringSum {
  /** "load:fan coil-driver": stable, for findings and keys. */
  id: string
  kind: string
  title: string
  /** JSON Pointer of the part. */
  path: string
  loadId: string | null
  controlId: string | null
  sensorId: string | null
  /** What it was computed from, in words. */
  given: string[]
  /** null when an input cannot be; `refused` says which. */
  sum: Sum | null
  refused: string
  fixes: { words: string; edit: Edit }[]
}

/** What is known of a sum before it is computed. */
export type Part = Pick<WiringSum, 'id' | 'kind' | 'title' | 'path' | 'given'> & Partial<WiringSum>

/** Computes; an input that cannot be is told, not thrown. `fixes`: what helps where it fails. */
export function made(
  part: Part,
  compute: () => Sum,
  fixes: (of: Sum) => WiringSum['fixes'] = () => [],
): WiringSum {
  const base = { loadId: null, controlId: null, sensorId: null, ...part }
  try {
    const of = compute()
    return { ...base, sum: of, refused: '', fixes: of.ok ? [] : fixes(of) }
  } catch (error) {
    if (error instanceof BadInput) return { ...base, sum: null, refused: error.message, fixes: [] }
    throw error
  }
}

/** Short leads work with less wetting current than long ones. */
const LONG_LEAD_M = 3

/** Current that keeps a contact clean, A: a short lead needs less. */
export function wettingAmps(leadMeters: number): number {
  const { wettingAmps: amps } = PULL_UP_DEFAULTS
  return leadMeters > LONG_LEAD_M ? amps : amps / 20
}

/** The next lower usual pull-up that gives the contact its wetting current. */
export function strongerPull(
  ohms: number,
  volts: number,
  edit: (pullOhms: number) => Edit,
): WiringSum['fixes'] {
  return [3300, 2200, 1000]
    .filter(r => r < ohms && volts / r >= PULL_UP_DEFAULTS.wettingAmps)
    .slice(0, 1)
    .map(r => ({ words: `Pull up with ${showQuantity(r, 'Ω')}`, edit: edit(r) }))
}
