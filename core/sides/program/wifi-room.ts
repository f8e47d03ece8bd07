/**
 * How much the program of a board with Wi-Fi takes of it, beside what its environment and its radio
 * take, which was not measured. Tables and pages are known to the byte; code and memory are
 * reckoned by weights: programs of 41 designs were compiled for the small core, 39 of them for the
 * newer single one (gcc -Os, objects without the environment); memory was fitted by least squares.
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

interface Weights {
  /** Programs differ by what is in them: 52 to 69 kB on the small core, 52 to 64 kB else. */
  code: number
  /** Of memory: before anything, by a link beside the first. */
  base: number
  link: number
}
const WEIGHTS: Record<'wifi-small' | 'wifi-sockets', Weights> = {
  // Its constants, about 2.5 kB, stand in memory: only what is told to stays in flash.
  'wifi-small': { code: 60_500, base: 22_700, link: 1320 },
  'wifi-sockets': { code: 57_500, base: 18_600, link: 0 },
}
/** The same on both, bytes of memory. */
const MEMORY = {
  /** A byte of an answer more: each connection has one to say and two that may wait. */
  answer: 14.3,
  load: 90,
  input: 17,
  sensor: 40,
  /** Of a link. */
  buffer: 7.7,
  seen: 12.4,
  peer: 1085,
}
/**
 * Of the 80 kB of a small board its environment and the radio take about half, and connections some
 * of the rest.
 */
const SMALL_MEMORY = 36_000
export const WIFI_OFF = { code: 0.18, memory: 0.05 }

const weightsOf = (part: Design): Weights | null => {
  const target = targetOf(part)
  return target === 'wifi-small' || target === 'wifi-sockets' ? WEIGHTS[target] : null
}

/** Bytes of memory, about; null where the part gets no such program. */
function wifiMemory(part: Design): number | null {
  const weights = weightsOf(part)
  if (!weights) return null
  const { program, carried } = partTable(part)
  const { small, wide } = engineSizes(program)
  const { answer } = networkSizes(program, WIFI_CLIENTS)
  return Math.round(
    weights.base
      + MEMORY.answer * (answer - LEAST_ANSWER)
      + weights.link * (small.links - 1)
      + MEMORY.load * small.loads
      + MEMORY.input * small.inputs
      + MEMORY.sensor * small.sensors
      + (MEMORY.buffer * wide.buffer + MEMORY.seen * small.seen) * small.links
      + (boardUses(part, carried).PEER ? MEMORY.peer : 0),
  )
}

/** Of a small board, whose memory is short; null where the part gets no program for such. */
export function smallMemory(part: Design): { takes: number; has: number } | null {
  const takes = targetOf(part) === 'wifi-small' ? wifiMemory(part) : null
  return takes === null ? null : { takes, has: SMALL_MEMORY }
}

/** null where the part gets no such program. */
export function wifiRoom(part: Design): WifiRoom | null {
  const code = weightsOf(part)?.code
  const memory = wifiMemory(part)
  if (code === undefined || memory === null) return null
  const pages = servedPages(part).pages.reduce((sum, p) => sum + p.zipped.length, 0)
  return { code, table: tableBytes(partTable(part).table), pages, memory }
}
