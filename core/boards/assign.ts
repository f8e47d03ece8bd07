/**
 * Pins for all needs at once: the assignment of least total cost, found with the Hungarian method
 * (Kuhn 1955, Munkres 1957; here in the shortest-augmenting-path form of Jonker and Volgenant 1987,
 * O(n² m)). A use that a hazard stops is never taken; warnings, notes and abilities that others may
 * need later cost, in that order.
 */
import { troubles, type PinUse, type Trouble } from './hazards'
import type { Ability, BoardPin, BoardProfile } from './schema'

export interface PinNeed {
  id: string
  what: string
  use: PinUse
}
export interface Assigned {
  needId: string
  chip: number
  troubles: Trouble[]
  why: string
}
export interface Unmet {
  needId: string
  why: string
}
export interface Assignment {
  assigned: Assigned[]
  unmet: Unmet[]
  cost: number
}

const WARN_COST = 1000
const NOTE_COST = 100
/** An ability that goes unused is lost to later needs. */
const SPARE_COST = 3
/** A hazard that this use does not provoke may still surprise somebody. */
const QUIET_HAZARD_COST = 5
const UNMET_COST = 1_000_000
const SPARED: readonly Ability[] = ['analog', 'pwm', 'interrupt', 'serial-in', 'serial-out']
/** What a use can do with. */
const USED: Record<PinUse['as'], readonly Ability[]> = {
  output: [],
  pwm: ['pwm'],
  contact: ['interrupt'],
  sense: ['interrupt'],
  'serial-in': ['serial-in'],
  'serial-out': ['serial-out'],
  analog: ['analog'],
  'wire-in': ['interrupt'],
  'wire-out': [],
  bus: [],
}

/** Cost of one use of one pin; Infinity where a hazard stops it. */
export function pinCost(pin: BoardPin, use: PinUse): number {
  const found = troubles(pin, use)
  if (found.some(t => t.severity === 'stop')) return Infinity
  const provoked = new Set(found.map(t => t.hazard))
  return (
    found.reduce((cost, t) => cost + (t.severity === 'warn' ? WARN_COST : NOTE_COST), 0)
    + QUIET_HAZARD_COST * pin.hazards.filter(h => !provoked.has(h.kind)).length
    + SPARE_COST * unused(pin, use).length
  )
}

/** What the pin can do that others may want and this use does not. */
function unused(pin: BoardPin, use: PinUse): Ability[] {
  return pin.can.filter(a => SPARED.includes(a) && !USED[use.as].includes(a))
}

/** `kept` maps a need to the pin it keeps, whatever it costs. */
export function assignPins(
  board: BoardProfile,
  needs: readonly PinNeed[],
  kept: ReadonlyMap<string, number> = new Map(),
): Assignment {
  const held = new Set(kept.values())
  const open = needs.filter(n => !kept.has(n.id))
  const pins = board.pins.filter(p => !held.has(p.chip))
  // One column for "no pin" per need, so that every need finds a place and as few as possible stay
  // without.
  const costs = open.map((need, row) => [
    ...pins.map(p => Math.min(pinCost(p, need.use), 2 * UNMET_COST)),
    ...open.map((_, i) => (i === row ? UNMET_COST : 2 * UNMET_COST)),
  ])
  const columns = cheapest(costs)
  const assigned: Assigned[] = needs.flatMap((need): Assigned[] => {
    const chip = kept.get(need.id) ?? pins[columns[open.indexOf(need)] ?? -1]?.chip
    const pin = board.pins.find(p => p.chip === chip)
    if (!pin) return []
    const left = troubles(pin, need.use)
    return [
      {
        needId: need.id,
        chip: pin.chip,
        troubles: left,
        why: kept.has(need.id) ? 'kept as you set it' : whyWords(pin, need.use, left),
      },
    ]
  })
  const unmet = open
    .filter((_, row) => (columns[row] ?? 0) >= pins.length)
    .map(need => ({ needId: need.id, why: unmetWords(board, pins, need, kept) }))
  const cost = open.reduce(
    (total, _, row) => total + Math.min(costs[row]?.[columns[row] ?? -1] ?? 0, UNMET_COST),
    0,
  )
  return { assigned, unmet, cost }
}

function whyWords(pin: BoardPin, use: PinUse, left: readonly Trouble[]): string {
  const spare = unused(pin, use)
  if (!left.length && pin.hazards.length)
    return `what is special about it does not touch this use: ${pin.hazards.map(h => h.words).join('; ')}`
  if (left.length) return `the least of what is left: ${left.map(t => t.words).join('; ')}`
  return spare.length
    ? `free of hazards; its ${spare.join(', ')} is not needed elsewhere`
    : 'free of hazards, and nothing else needs what it can do'
}

function unmetWords(
  board: BoardProfile,
  pins: readonly BoardPin[],
  need: PinNeed,
  kept: ReadonlyMap<string, number>,
): string {
  const fit = pins.filter(p => Number.isFinite(pinCost(p, need.use)))
  if (fit.length)
    return `${board.name} has ${fit.length} ${fit.length === 1 ? 'pin' : 'pins'} that would do (${fit.map(p => p.label).join(', ')}), all taken by other needs; drop one of those, or take a board with more pins`
  const heldFit = board.pins.filter(
    p => [...kept.values()].includes(p.chip) && Number.isFinite(pinCost(p, need.use)),
  )
  if (heldFit.length)
    return `only ${heldFit.map(p => p.label).join(', ')} would do, and you keep ${heldFit.length === 1 ? 'it' : 'them'} for something else; let one go`
  return `no pin of ${board.name} can do this; take another board`
}

/** Column of each row in an assignment of least total cost. Rows are at most as many as columns. */
export function cheapest(costs: readonly (readonly number[])[]): number[] {
  const rows = costs.length
  const columns = costs[0]?.length ?? 0
  const rowPrice = new Float64Array(rows + 1)
  const columnPrice = new Float64Array(columns + 1)
  const rowOf = new Int32Array(columns + 1)
  for (let row = 1; row <= rows; row++) {
    rowOf[0] = row
    const slack = new Float64Array(columns + 1).fill(Infinity)
    const before = new Int32Array(columns + 1)
    const done = new Uint8Array(columns + 1)
    let column = 0
    do {
      done[column] = 1
      const r = rowOf[column] as number
      let least = Infinity
      let next = 0
      for (let c = 1; c <= columns; c++) {
        if (done[c]) continue
        const reduced =
          (costs[r - 1]?.[c - 1] as number) - (rowPrice[r] as number) - (columnPrice[c] as number)
        if (reduced < (slack[c] as number)) {
          slack[c] = reduced
          before[c] = column
        }
        if ((slack[c] as number) < least) {
          least = slack[c] as number
          next = c
        }
      }
      for (let c = 0; c <= columns; c++) {
        if (done[c]) {
          const owner = rowOf[c] as number
          rowPrice[owner] = (rowPrice[owner] as number) + least
          columnPrice[c] = (columnPrice[c] as number) - least
        } else slack[c] = (slack[c] as number) - least
      }
      column = next
    } while (rowOf[column] !== 0)
    while (column !== 0) {
      const prior = before[column] as number
      rowOf[column] = rowOf[prior] as number
      column = prior
    }
  }
  const result = Array.from({ length: rows }, () => -1)
  for (let c = 1; c <= columns; c++)
    if ((rowOf[c] as number) > 0) result[(rowOf[c] as number) - 1] = c - 1
  return result
}
