/**
 * The stand-ins and programs that run on this server. They live in memory and end with it; what
 * stand-ins have counted outlives them.
 */
import { join, resolve } from 'node:path'
import { partOf } from '../../core/design/part'
import type { Design } from '../../core/design/schema'
import { countersIn, type CounterStore } from './counters'
import type { Front, Gate, StandInInfo } from './front'
import { Maker } from './maker'
import { OwnProgram } from './own-program'
import { StandIn } from './stand-in'

const running = new Map<string, Front>()
let counter = 0
let counters: CounterStore | null = null
let maker: Maker | null = null

/** Ports tried first, so that an address stays the same from one evening to the next. */
const FAVOURED_PORTS = Array.from({ length: 20 }, (_, i) => 4690 + i)
const MAX_RUNNING = 12

/** What is started: a stand-in, or the program itself. */
export interface Wanted {
  design: Design
  revision: number
  secrets: Record<string, string>
  controllerId: string
  runs: StandInInfo['runs']
}

/** For the controller named. Returns null when too many are running. */
export async function startStandIn(wanted: Wanted, gate: Gate): Promise<StandInInfo | null> {
  if (running.size >= MAX_RUNNING) return null
  const started = madeOf(wanted, gate)
  await started.listen(process.env.NOLVI_HOST ?? '127.0.0.1', FAVOURED_PORTS)
  running.set(started.id, started)
  return started.info()
}

function madeOf({ design, revision, secrets, controllerId, runs }: Wanted, gate: Gate): Front {
  const part = partOf(design, controllerId)
  const folder = resolve(process.env.NOLVI_DATA ?? '.data')
  if (runs === 'program') {
    maker ??= new Maker(join(folder, 'programs'))
    return new OwnProgram(`program-${++counter}`, part, revision, secrets, gate, maker)
  }
  counters ??= countersIn(folder)
  return new StandIn(`stand-in-${++counter}`, part, revision, secrets, counters, gate)
}

export function standInsOf(designId: string): StandInInfo[] {
  return [...running.values()].filter(s => s.design.id === designId).map(s => s.info())
}

export function maybeStandIn(designId: string, id: string): Front | null {
  const standIn = running.get(id)
  return standIn?.design.id === designId ? standIn : null
}

export async function stopStandIn(standIn: Front): Promise<void> {
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
