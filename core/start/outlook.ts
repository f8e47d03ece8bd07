/** What is said of a design before it is begun: promises, findings, pins, and outages. */
import { pinOf } from '../boards/boards'
import { check } from '../checks/check'
import { counted, toldOnce } from '../checks/told-once'
import { partOfLoad, parts } from '../design/part'
import { boardOf, needs } from '../design/pins'
import type { Design } from '../design/schema'
import { DEFAULT_BOUNDS } from '../proof/bounds'
import { outagesOf, survives } from '../proof/outages'
import { PROMISE_IDS, type PromiseId } from '../proof/promises'
import { proveAll } from '../proof/prove'
import { Searched } from '../proof/same'

/** What is seen at once. */
export interface Sketch {
  /** In the order of the wiring: the label of the board, and what for. */
  pins: { label: string; what: string }[]
  pinsOf: number
  /** Surfaces, by name, that still work. */
  works: { internet: string[]; router: string[] }
}
/** What has to be proved. */
export interface Judgement {
  /** Promises that are asked of some load, and those of them that hold for all. */
  promises: { asked: PromiseId[]; kept: PromiseId[] }
  stops: number
  warns: number
}

/** What can be said of a design at once: without a proof. */
export function sketch(design: Design): Sketch {
  const outages = outagesOf(design)
  const working = (id: string) => {
    const outage = outages.find(o => o.id === id)
    return design.surfaces.filter(s => outage && survives(design, s, outage)).map(s => s.name)
  }
  return {
    pins: parts(design).flatMap(({ part }) =>
      needs(part).map(n => ({
        label: pinOf(boardOf(part), n.chip)?.label ?? '',
        what: n.what,
      })),
    ),
    pinsOf: parts(design).reduce(
      (sum, { part }) => sum + boardOf(part).pins.filter(p => p.can.length).length,
      0,
    ),
    works: { internet: working('internet'), router: working('router') },
  }
}

/** What it takes a moment to say: promises kept of those that are asked, and findings. */
export function judge(design: Design): Judgement {
  const { stop, warn } = counted(toldOnce(check(design).findings))
  const searched = new Searched()
  const results = design.loads.flatMap(l =>
    proveAll(partOfLoad(design, l.id), l.id, DEFAULT_BOUNDS, { searched, trials: false }),
  )
  const of = (id: PromiseId) => results.filter(v => v.promise === id && v.result !== 'not asked')
  const asked = PROMISE_IDS.filter(id => of(id).length)
  return {
    promises: {
      asked,
      kept: asked.filter(id => of(id).every(v => v.result === 'holds' || v.result === 'by timing')),
    },
    stops: stop,
    warns: warn,
  }
}
