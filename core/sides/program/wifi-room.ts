/**
 * How much the program of a board with Wi-Fi takes of it, beside what its environment and its radio
 * take, which was not measured. Tables and pages are known to the byte; code and memory are
 * reckoned by weights: 66 programs were compiled for the small core and the newer single one and
 * linked without the environment, as it links them, without what nobody calls (gcc -Os); the
 * weights were fitted by least squares. Bluetooth of the chip was in none of them.
 */
import type { Design } from '../../design/schema'
import { targetOf } from './can-program'
import { tableBytes } from './image-fit'
import { LEAST_ANSWER, networkSizes } from './network'
import { partTable } from './part-table'
import { servedPages } from './served-pages'
import { engineSizes } from './sizes'
import { WIFI_CLIENTS } from './wifi'
import { boardUses } from './wiring'

export interface WifiRoom {
  /** Of flash, bytes: code about, and what follows from the design. */
  code: number
  table: number
  pages: number
  /** Of memory, bytes, about. */
  memory: number
}

/** Bytes by what is in an engine; of flash with its constants, which are no table and no page. */
interface Weights {
  flash: {
    any: number
    /** A server of routes, or a client of them. */
    http: number
    routes: number
    /** The name of the board that is asked. */
    named: number
    /** Proofs; several loads set as one thing; anything that is sensed; timers. */
    sealed: number
    together: number
    sensors: number
    timed: number
    /** Of each kind of load beside the first; more than one link. */
    kinds: number
    links: number
  }
  memory: {
    any: number
    http: number
    routes: number
    named: number
    /** Of a byte of an answer more: each connection has one to say and two that may wait. */
    answer: number
    /** Of each, and of each link beside the first. */
    load: number
    sensor: number
    link: number
    /** Of a byte of each link's buffer, and of a number that it remembers. */
    buffer: number
    seen: number
    peer: number
  }
}
const WEIGHTS: Record<'wifi-small' | 'wifi-sockets', Weights> = {
  'wifi-small': {
    flash: {
      ...{ any: 17_200, http: 14_100, routes: 3600, named: 1330, sealed: 5900, together: 6600 },
      ...{ sensors: 2200, timed: 1500, kinds: 180, links: 1600 },
    },
    // Its constants stand in memory: only what is told to stays in flash.
    memory: {
      ...{ any: 1354, http: 17_450, routes: 1480, named: 570, answer: 11.2, load: 167, sensor: 0 },
      ...{ link: 0, buffer: 9.4, seen: 9.1, peer: 1010 },
    },
  },
  'wifi-sockets': {
    flash: {
      ...{ any: 16_900, http: 14_100, routes: 4200, named: 1330, sealed: 5900, together: 2300 },
      ...{ sensors: 2300, timed: 1200, kinds: 690, links: 1200 },
    },
    memory: {
      ...{ any: 4440, http: 12_820, routes: 1350, named: 535, answer: 11.5, load: 113, sensor: 42 },
      ...{ link: 194, buffer: 1.6, seen: 12.5, peer: 1010 },
    },
  },
}
/**
 * Of the 80 kB of a small board its environment and the radio take about half, and connections some
 * of the rest.
 */
const SMALL_MEMORY = 36_000
/** How far it may be off: by 13 % and 4 % where it was fitted. */
export const WIFI_OFF = { code: 0.15, memory: 0.05 }

const weightsOf = (part: Design): Weights | null => {
  const target = targetOf(part)
  return target === 'wifi-small' || target === 'wifi-sockets' ? WEIGHTS[target] : null
}

const bits = (set: number): number => [...set.toString(2)].filter(b => b === '1').length

/** Bytes of an engine, about; null where the part gets no such program. */
function ofEngine(part: Design): { flash: number; memory: number } | null {
  const weights = weightsOf(part)
  if (!weights) return null
  const { program, carried } = partTable(part)
  const { small, wide, has, timed } = engineSizes(program)
  const { flash, memory } = weights
  const { answer } = networkSizes(program, WIFI_CLIENTS)
  const where = (is: boolean, bytes: number) => (is ? bytes : 0)
  return {
    flash:
      flash.any
      + where(has.http, flash.http)
      + where(has.routes, flash.routes)
      + where(has.named, flash.named)
      + where(has.sealed, flash.sealed)
      + where(has.together, flash.together)
      + where(small.sensors > 0, flash.sensors)
      + where(timed, flash.timed)
      + where(small.links > 1, flash.links)
      + (bits(small.kinds) - 1) * flash.kinds,
    memory:
      memory.any
      + where(has.http, memory.http + memory.answer * (answer - LEAST_ANSWER))
      + where(has.routes, memory.routes)
      + where(has.named, memory.named)
      + memory.load * small.loads
      + memory.sensor * small.sensors
      + memory.link * (small.links - 1)
      + (memory.buffer * wide.buffer + memory.seen * small.seen) * small.links
      + where(boardUses(part, carried).PEER > 0, memory.peer),
  }
}

/** Of all engines of a board. */
function sumOf(engines: readonly Design[]): { flash: number; memory: number } | null {
  const sum = { flash: 0, memory: 0 }
  for (const engine of engines) {
    const of = ofEngine(engine)
    if (!of) return null
    sum.flash += of.flash
    sum.memory += of.memory
  }
  return { flash: sum.flash, memory: Math.round(sum.memory) }
}

/**
 * Of a small board, whose memory is short; null where it gets no program for such. `engines`: of
 * the board, all of them.
 */
export function smallMemory(engines: readonly Design[]): { takes: number; has: number } | null {
  const takes = engines.every(e => targetOf(e) === 'wifi-small') ? sumOf(engines) : null
  return takes && engines.length ? { takes: takes.memory, has: SMALL_MEMORY } : null
}

/** `engines`: of a board, all of them. null where it gets no such program. */
export function wifiRoom(engines: readonly Design[]): WifiRoom | null {
  const [part] = engines
  const sum = sumOf(engines)
  if (!part || !sum) return null
  const pages = servedPages(part).pages.reduce((bytes, p) => bytes + p.zipped.length, 0)
  const table = engines.reduce((bytes, e) => bytes + tableBytes(partTable(e).table), 0)
  return { code: sum.flash, table, pages, memory: sum.memory }
}
