/** By which surfaces a board can be worked from, as far as its class goes. */
import { classOf } from '../boards/classes'
import { maybeShipped, SHIPPED } from '../boards/boards'
import type { BoardProfile } from '../boards/schema'
import type { DeviceId } from '../design/schema'

export const WAY_IDS = ['phone', 'browser', 'computer'] as const
export type WayId = (typeof WAY_IDS)[number]
export const HAND_IDS = ['buttons', 'switches', 'none'] as const
export type HandId = (typeof HAND_IDS)[number]

/** Each is one whose page opens there: phones give pages no serial ports. */
export const WAYS: Readonly<
  Record<
    WayId,
    {
      words: string
      name: string
      over: 'low-energy' | 'http' | 'bluetooth-serial'
      device: DeviceId
      can: (board: BoardProfile) => boolean
    }
  >
> = {
  phone: {
    words: 'a phone by Bluetooth',
    name: 'Phone',
    over: 'low-energy',
    device: 'phone-small',
    can: b => classOf(b).lowEnergy && !classOf(b).shell,
  },
  browser: {
    words: 'a browser in the house network',
    name: 'Browser',
    over: 'http',
    device: 'phone-small',
    can: b => classOf(b).network && classOf(b).program !== 'router',
  },
  computer: {
    words: 'a computer by serial Bluetooth',
    name: 'Computer',
    over: 'bluetooth-serial',
    device: 'browser',
    // An 8-bit board has a module on its serial port.
    can: b => classOf(b).program === 'avr8' || classOf(b).bluetooth,
  },
}

export const HANDS: Readonly<Record<HandId, { words: string; name: string }>> = {
  buttons: { words: 'wall buttons', name: 'Wall buttons' },
  switches: { words: 'wall switches', name: 'Wall switches' },
  none: { words: 'no hand control', name: '' },
}

/** Ways that a shipped board offers, the usual one first. Throws where there is no such board. */
export function waysOn(boardId: string): WayId[] {
  const board = maybeShipped(boardId)
  if (!board) throw new RangeError(`no shipped board "${boardId}"`)
  return WAY_IDS.filter(id => WAYS[id].can(board))
}

/** Boards that somebody begins with: those for which a program is made. */
export function startBoards(): BoardProfile[] {
  return SHIPPED.filter(b => waysOn(b.id).length)
}
