/** What lies on the bench: a board, loads, surfaces, hand controls. */
import type { Danger } from '../design/schema'
import { LOAD_IDS, LOADS, type LoadId } from './loads'
import { HAND_IDS, startBoards, WAY_IDS, waysOn, type HandId, type WayId } from './ways'

export interface DrawerLoad {
  what: LoadId
  /** "" = as such loads are called. */
  name: string
  dangers: Danger[]
}
/** What lies on the bench. `afterCut`: of loads that hurt nobody; the others stay off. */
export interface Drawer {
  name: string
  place: string
  board: string
  loads: DrawerLoad[]
  hand: HandId
  ways: WayId[]
  afterCut: 'last' | 'off'
  /** Further boards, each with its own loads and panels. */
  also?: Pick<Drawer, 'board' | 'loads' | 'ways'>[]
}
/** Characters of a name. */
const MOST_OF_A_NAME = 40

/** A load as such loads usually are. `name`: "" = as they are called. */
export function drawerLoad(what: LoadId, name = ''): DrawerLoad {
  return { what, name, dangers: [...LOADS[what].dangers] }
}

/** What the sentence of the shelf says before anybody changed a word. */
export function firstDrawer(): Drawer {
  return {
    name: '',
    place: '',
    board: 'board-dual-radio',
    loads: [drawerLoad('lamp', 'Wheel lamp'), drawerLoad('fan', 'Extractor')],
    hand: 'buttons',
    ways: ['phone', 'browser'],
    afterCut: 'last',
  }
}

/** Whether something that was kept is a drawer of this Nolvi. */
export function isDrawer(kept: unknown): kept is Drawer {
  const { board, loads, hand, ways, afterCut } = (kept ?? {}) as Partial<Drawer>
  return (
    startBoards().some(b => b.id === board)
    && Array.isArray(loads)
    && loads.length > 0
    && loads.every(l => (LOAD_IDS as readonly unknown[]).includes(l?.what))
    && HAND_IDS.includes(hand as HandId)
    && Array.isArray(ways)
    && ways.every(w => (WAY_IDS as readonly unknown[]).includes(w))
    && (afterCut === 'last' || afterCut === 'off')
  )
}

/** The drawer with another board: ways that it does not offer are left out, one stays. */
export function withBoard(drawer: Drawer, board: string): Drawer {
  const offered = waysOn(board)
  const ways = drawer.ways.filter(w => offered.includes(w))
  return { ...drawer, board, ways: ways.length ? ways : offered.slice(0, 1) }
}

/** Names of its loads, each once: "Lamp", "Lamp 2". */
export function loadNames({ loads, also = [] }: Pick<Drawer, 'loads' | 'also'>): string[] {
  const taken = new Set<string>()
  return [...loads, ...also.flatMap(a => a.loads)].map(({ what, name }) => {
    const wish = (name.trim() || LOADS[what].name).slice(0, MOST_OF_A_NAME)
    let fresh = wish
    for (let n = 2; taken.has(fresh); n++) fresh = `${wish.slice(0, MOST_OF_A_NAME - 3)} ${n}`
    taken.add(fresh)
    return fresh
  })
}
