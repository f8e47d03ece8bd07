/** Columns of the bench: the sheet's surfaces in their order, with the controller in the middle. */
import type { Design, Surface } from '../../core/design/schema'

export type BenchColumn =
  { kind: 'surface'; surface: Surface } | { kind: 'controller' } | { kind: 'board' }

/** `withBoard`: with an emulated board beside them. */
export function benchColumns(design: Design, withBoard = false): BenchColumn[] {
  const columns: BenchColumn[] = design.surfaces.map(surface => ({ kind: 'surface', surface }))
  columns.splice(Math.ceil(columns.length / 2), 0, { kind: 'controller' })
  // Last, so that no message crosses it.
  if (withBoard) columns.push({ kind: 'board' })
  return columns
}

/** Width of the time scale at the left, px. */
export const TIME_SCALE_PX = 70
/** Width of the strip at the right that shows the whole run, px. */
export const OVERVIEW_PX = 30
