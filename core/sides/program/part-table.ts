/** A part as its program knows it: what is compiled, and the table of it. */
import { compileController, type Program } from '../../controller/program'
import { boardOf } from '../../design/pins'
import type { Design } from '../../design/schema'
import { carriedDesign, portsOf, type Port } from './carried'
import { helloText } from '../../messages/table'
import { FRONT_WIRE } from '../front-wire'
import { heardByBox } from './box'
import { isInFront, lampLine, lampsOnWire, longestBehind } from './front'
import { sharedTable, type SharedTable } from './tables'
import { wiringTable } from './wiring'

export interface PartTable {
  program: Program
  carried: Port[]
  table: SharedTable
}

/** Lines of lamps that are told may be longer than commands. */
function withLampLines(program: Program): Program {
  const told = lampsOnWire(program.design)
  if (!told.length) return program
  const links = program.links.map(l => {
    if (l.link.id !== FRONT_WIRE) return l
    const longest = Math.max(l.reader.longest, ...told.map(t => lampLine(t.lamp, true).length + 2))
    return { ...l, reader: { ...l.reader, longest } }
  })
  return { ...program, links }
}

/** A board in front hears what the one behind it says: its lines are longer than commands. */
function heardBehind(program: Program): Program {
  if (!isInFront(program.design)) return program
  const links = program.links.map(l => {
    if (l.link.id !== FRONT_WIRE) return l
    const longest = longestBehind(l, helloText(l.link, program.fingerprint, 0))
    return { ...l, reader: { ...l.reader, longest } }
  })
  return { ...program, links }
}

/** Sizes, room and files of one part all ask for its table; a design never changes. */
const made = new WeakMap<Design, PartTable>()

/** Throws `TooLarge` where the table has no room. */
export function partTable(part: Design): PartTable {
  const known = made.get(part) ?? tableOf(part)
  made.set(part, known)
  return known
}

function tableOf(part: Design): PartTable {
  const program = heardByBox(heardBehind(withLampLines(compileController(carriedDesign(part)))))
  const carried = portsOf(part)
  const table = sharedTable(program, to => wiringTable(to, program, carried, boardOf(part)))
  return { program, carried, table }
}
