/**
 * The stand-ins of this server. They live in memory and end with it; what they have counted
 * outlives them.
 */
import { resolve } from 'node:path'
import { partOf } from '../../core/design/part'
import type { Design } from '../../core/design/schema'
import { countersIn, type CounterStore } from './counters'
import type { Gate, StandInInfo } from './front'
import { StandIn } from './stand-in'

export type { StandIn }

const running = new Map<string, StandIn>()
let counter = 0
let counters: CounterStore | null = null

/** Ports tried first, so that an address stays the same from one evening to the next. */
const FAVOURED_PORTS = Array.from({ length: 20 }, (_, i) => 4690 + i)
const MAX_RUNNING = 12

/** Returns null when too many are running. */
/** One for the controller named, or for the first. */
export async function startStandIn(
  design: Design,
  revision: number,
  secrets: Record<string, string>,
  gate: Gate,
  controllerId = design.controllers[0]?.id ?? '',
): Promise<StandInInfo | null> {
  if (running.size >= MAX_RUNNING) return null
  const standIn = new StandIn(
    `stand-in-${++counter}`,
    partOf(design, controllerId),
    revision,
    secrets,
    (counters ??= countersIn(resolve(process.env.NOLVI_DATA ?? '.data'))),
    gate,
  )
  await standIn.listen(process.env.NOLVI_HOST ?? '127.0.0.1', FAVOURED_PORTS)
  running.set(standIn.id, standIn)
  return standIn.info()
}

export function standInsOf(designId: string): StandInInfo[] {
  return [...running.values()].filter(s => s.design.id === designId).map(s => s.info())
}

export function maybeStandIn(designId: string, id: string): StandIn | null {
  const standIn = running.get(id)
  return standIn?.design.id === designId ? standIn : null
}

export async function stopStandIn(standIn: StandIn): Promise<void> {
  running.delete(standIn.id)
  await standIn.close()
}

/** Those of a design that is gone. */
export async function stopStandInsOf(designId: string): Promise<void> {
  await Promise.all([...running.values()].filter(s => s.design.id === designId).map(stopStandIn))
}

export async function stopAllStandIns(): Promise<void> {
  await Promise.all([...running.values()].map(stopStandIn))
}
