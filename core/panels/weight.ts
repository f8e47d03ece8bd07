/** How large a page may be that a board hands out itself. */
import type { BoardProfile } from '../boards/schema'

/**
 * Room for a page by the kind of board. 8-bit boards keep text in 32 kB of program memory beside
 * the program itself; boards with Wi-Fi have megabytes, but the page shares the part that holds
 * files or is built into a program of about a megabyte; a router or computer has room enough. Rules
 * of thumb for the class of board, to be changed by whoever knows better.
 */
export function pageRoom(board: BoardProfile): { bytes: number; why: string } {
  switch (board.toolchain) {
    case 'avr-8bit':
      return { bytes: 8_000, why: 'an 8-bit board has about 8 kB left beside its program' }
    case 'wifi-single-radio':
    case 'single-core':
      return { bytes: 200_000, why: 'about 200 kB can be built into the program of such a board' }
    case 'dual-radio':
      return { bytes: 300_000, why: 'about 300 kB can be built into the program of such a board' }
    default:
      return {
        bytes: 2_000_000,
        why: 'pages of 2 MB and more take seconds to load over a slow network',
      }
  }
}
