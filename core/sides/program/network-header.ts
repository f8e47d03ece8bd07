/** What the compiler is told of the room that a program with a network has (`sizes.h`). */
import type { Design } from '../../design/schema'
import { networkSizes, type NetworkRoom } from './network'
import type { PartTable } from './part-table'
import { engineSizes, sizesHeader } from './sizes'
import { boardDefines, boardUses } from './wiring'

/** What the program of a board on a network is compiled with: sizes, and what is in it. */
export function networkHeader(
  part: Design,
  { program, carried }: PartTable,
  room: NetworkRoom,
): string {
  const sizes = engineSizes(program)
  const wide = { ...sizes.wide, ...networkSizes(program, room) }
  return sizesHeader({ ...sizes, wide }, boardDefines(boardUses(part, carried)))
}
