/** A link of the bench: who is at its far end, whether it is up, and what is on its way. */
import { isDatagram, speaksBytes } from '../design/links/traits'
import type { Link } from '../design/schema'
import type { SurfaceMachine } from '../surfaces/surface'
import type { Random } from '../units/random'

export type Dir = 'up' | 'down'

/** `at`: its place among the surfaces that are not hand controls. */
export interface SurfaceUnit {
  at: number
  machine: SurfaceMachine
  link: LinkUnit | null
  tickAt: number | null
  random: Random
}

interface Way {
  lastArrival: number
  lastEcho: number
  sent: number
  onWay: number
}

export interface LinkUnit {
  link: Link
  index: number
  panel: SurfaceUnit | null
  random: Random
  datagrams: boolean
  echoes: boolean
  /** Put out of reach by a fault. */
  away: boolean
  /** Held by somebody else, where it serves one at a time. */
  taken: boolean
  up: boolean
  /** Counts ups and downs, so that what was planned for an earlier connection falls away. */
  epoch: number
  ways: { up: Way; down: Way }
  loseNext: number
  doubleNext: number
  /** The last commands that were sent, as a stranger would record them. */
  recorded: string[]
  /** By length of a text: its time on the wire. */
  wire: number[]
  /** By text that came down: how it is shown, and the loads it speaks of. */
  told: Map<string, { shown: string; loadIds: readonly string[] }>
}

/** A link that is down, with nothing on its way. `index`: its place in the design. */
export function linkUnit(
  link: Link,
  index: number,
  panel: SurfaceUnit | null,
  random: Random,
): LinkUnit {
  const way = () => ({ lastArrival: 0, lastEcho: 0, sent: 0, onWay: 0 })
  return {
    link,
    index,
    panel,
    random,
    datagrams: isDatagram(link),
    echoes: speaksBytes(link) && link.echoes,
    away: false,
    taken: false,
    up: false,
    epoch: 0,
    ways: { up: way(), down: way() },
    loseNext: 0,
    doubleNext: 0,
    recorded: [],
    wire: [],
    told: new Map(),
  }
}
