/** The shipped board profiles, by generic class. */
import eightBit from './profiles/board-8bit-5v.json' with { type: 'json' }
import eightBitSmall from './profiles/board-8bit-5v-small.json' with { type: 'json' }
import dualRadio from './profiles/board-dual-radio.json' with { type: 'json' }
import linuxHeader from './profiles/board-linux-header.json' with { type: 'json' }
import router from './profiles/board-router.json' with { type: 'json' }
import singleCore from './profiles/board-single-core.json' with { type: 'json' }
import wifiFull from './profiles/board-wifi-full.json' with { type: 'json' }
import wifiSmall from './profiles/board-wifi-small.json' with { type: 'json' }
import type { BoardPin, BoardProfile } from './schema'

/** Checked against the schema in the tests, so that starting costs nothing. */
export const SHIPPED = [
  eightBit,
  eightBitSmall,
  wifiSmall,
  wifiFull,
  dualRadio,
  singleCore,
  linuxHeader,
  router,
] as BoardProfile[]

/** The shipped board of that id; undefined where there is none. */
export function maybeShipped(id: string): BoardProfile | undefined {
  return SHIPPED.find(b => b.id === id)
}

/** The pin with that number of the chip; undefined where the board leads none out. */
export function pinOf(board: BoardProfile, chip: number): BoardPin | undefined {
  return board.pins.find(p => p.chip === chip)
}
