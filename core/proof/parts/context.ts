/** What the searches of one load share. */
import type { Bounds } from '../bounds'
import type { Design, Load } from '../../design/schema'
import type { Searched } from '../same'
import type { Tables } from '../system'

export interface Context {
  design: Design
  load: Load
  searched: Searched
  bounds: Bounds
  neighbours: Map<string, string[]>
  tables: Tables
  /** By surface. */
  shapes: Map<string | null, string>
  projected: () => Design
}
