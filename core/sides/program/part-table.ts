/** A part as its program knows it: what is compiled, and the table of it. */
import { compileController, type Program } from '../../controller/program'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { carriedDesign, portsOf, type Port } from './carried'
import { sharedTable, type SharedTable } from './tables'
import { wiringTable } from './wiring'

export interface PartTable {
  program: Program
  carried: Port[]
  table: SharedTable
}

/** Throws `TooLarge` where the table has no room. */
export function partTable(part: Design): PartTable {
  const program = compileController(carriedDesign(part))
  const carried = portsOf(part)
  const table = sharedTable(program, to => wiringTable(to, program, carried, boardOf(part)))
  return { program, carried, table }
}
