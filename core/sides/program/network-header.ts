/** What the compiler is told of the room that a program with a network has (`sizes.h`). */
import type { Design } from '../../design/schema'
import { networkSizes, type NetworkRoom } from './network'
import type { PartTable } from './part-table'
import { engineSizes, sizesHeader } from './sizes'
import { boardDefines, boardUses } from './wiring'

/**
 * What the program of a board on a network is compiled with: sizes, and what is in it. `more`: what
 * it is told beside that, line by line.
 */
export function networkHeader(
  part: Design,
  { program, carried }: PartTable,
  room: NetworkRoom,
  more = '',
): string {
  const sizes = engineSizes(program)
  const wide = { ...sizes.wide, ...networkSizes(program, room) }
  const defines = [boardDefines(boardUses(part, carried)), more].filter(Boolean).join('\n')
  return sizesHeader({ ...sizes, wide }, defines)
}
