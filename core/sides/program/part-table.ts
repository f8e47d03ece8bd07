/** A part as its program knows it: what is compiled, and the table of it. */
import { compileController, type Program } from '../../controller/program'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { carriedDesign, portsOf, type Port } from './carried'
import { helloText } from '../../messages/table'
import { longestBehind, wireBehind } from './front'
import { sharedTable, type SharedTable } from './tables'
import { wiringTable } from './wiring'

export interface PartTable {
  program: Program
  carried: Port[]
  table: SharedTable
}

/** A board in front hears what the one behind it says: its lines are longer than commands. */
function heardBehind(program: Program): Program {
  const wire = wireBehind(program.design)
  if (wire === null) return program
  const links = program.links.map(l =>
    l.link.id === wire
      ? {
          ...l,
          reader: {
            ...l.reader,
            longest: longestBehind(l, helloText(l.link, program.fingerprint, 0)),
          },
        }
      : l,
  )
  return { ...program, links }
}

/** Throws `TooLarge` where the table has no room. */
export function partTable(part: Design): PartTable {
  const program = heardBehind(compileController(carriedDesign(part)))
  const carried = portsOf(part)
  const table = sharedTable(program, to => wiringTable(to, program, carried, boardOf(part)))
  return { program, carried, table }
}
