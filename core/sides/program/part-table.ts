/** A part as its program on an 8-bit board knows it: what is compiled, and the table of it. */
import { compileController, type Program } from '../../controller/program'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { carriedDesign, carriedLinks, type Carried } from './carried'
import { sharedTable, type SharedTable } from './tables'
import { wiringTable } from './wiring'

export interface PartTable {
  program: Program
  carried: Carried[]
  table: SharedTable
}

/** Throws `TooLarge` where the table has no room. */
export function partTable(part: Design): PartTable {
  const program = compileController(carriedDesign(part))
  const carried = carriedLinks(part)
  const table = sharedTable(program, to => wiringTable(to, program, carried, boardOf(part)))
  return { program, carried, table }
}
