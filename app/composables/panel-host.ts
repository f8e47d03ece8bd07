/**
 * What stands behind a drawn panel within Nolvi: the run on the bench, or a panel at rest that
 * shows how it will look.
 */
import { readingText, restingRaw } from '../../core/controller/readings'
import { scaleOf } from '../../core/design/items'
import type { Design } from '../../core/design/schema'
import { restOf } from '../../core/design/values'
import { isHeld } from '../../core/design/outputs/traits'
import type { LiveCell } from '../../core/live/sheet'
import type { ConnectionView } from '../../core/live/view'
import {
  compileSurface,
  startSurface,
  type Belief,
  type SurfaceState,
} from '../../core/surfaces/surface'
import type { PanelHost } from '../panel-page/view'
import { useBenchStore } from '../stores/bench'
import { isLadder } from '../../core/design/sensors/traits'

/** Everything at rest and connected; readings somewhere on their scale. */
export function restingHost(design: Design, surfaceId: string): PanelHost {
  const program = compileSurface(design, surfaceId)
  const start = startSurface(program)
  const state: SurfaceState = {
    ...start,
    up: true,
    beliefs: design.loads.map(l => ({ value: restOf(l.output), stale: false, waiting: null })),
    readings: design.sensors.map(s => ({
      stale: false,
      text: readingText(s, isLadder(s) ? [(1 << (s.floats.length - 1)) - 1] : restingRaw(s)),
    })),
  }
  return {
    program,
    state: () => state,
    ask: () => undefined,
    now: () => 0,
    status: () => 'connected',
  }
}

/** A course for charts that have nothing to show yet. */
export function sampleCourse(design: Design, sensorId: string): { at: number; value: number }[] {
  const sensor = design.sensors.find(s => s.id === sensorId)
  if (!sensor) return []
  const { low, high } = scaleOf(sensor)
  return Array.from({ length: 24 }, (_, i) => ({
    at: i / 23,
    value: low + (high - low) * (0.45 + 0.2 * Math.sin(i / 4) + 0.05 * Math.sin(i * 1.7)),
  }))
}

/**
 * The panel over a live connection: it shows what the surface in whose place the connection speaks
 * would show, and what is asked there is said to the real thing. A key that must be held is left
 * out: nobody could let it go for a page that is closed.
 */
export function liveHost(
  design: Design,
  surfaceId: string,
  connection: () => ConnectionView,
  cells: () => readonly (LiveCell | undefined)[],
  press: (deed: object) => void,
): PanelHost {
  const program = compileSurface(design, surfaceId)
  const start = startSurface(program)
  return {
    program,
    now: () => 0,
    status: () => (connection().up ? 'connected' : connection().why || 'not connected'),
    state: () => ({
      ...start,
      up: connection().up,
      beliefs: start.beliefs.map((none, i) => beliefOf(none, cells()[i])),
      readings: start.readings.map((none, i) => {
        const told = connection().readings[i]
        return told ? { text: told.value, stale: !connection().up } : none
      }),
    }),
    ask(wish) {
      if (wish.kind === 'scene')
        press({ do: 'scene', sceneId: design.scenes[wish.scene]?.id ?? '' })
      else {
        const load = design.loads[wish.load]
        if (load && !isHeld(load.output)) press({ do: 'press', loadId: load.id, want: wish.want })
      }
    },
  }
}
function beliefOf(none: Belief, cell: LiveCell | undefined): Belief {
  if (!cell || cell.shown === 'unknown') return none
  if (cell.shown === 'waiting')
    return {
      ...none,
      waiting: {
        asked: cell.asked ?? '',
        relative: null,
        since: 0,
        due: Infinity,
        triesLeft: 0,
        number: 0,
      },
    }
  const stale = cell.shown.startsWith('stale-')
  return { ...none, value: cell.shown.replace(/^stale-/, ''), stale }
}

/** The panel as it runs on the bench: what is asked there is an action of the run. */
export function benchHost(surfaceId: string): PanelHost | null {
  const store = useBenchStore()
  const run = store.bench
  if (!run) return null
  const { design } = run
  return {
    get program() {
      return run.panel(surfaceId).program
    },
    state: () => run.panel(surfaceId).state,
    now: () => run.now,
    status: () =>
      run.panel(surfaceId).state.up
        ? 'connected'
        : run.power === 'on'
          ? 'The link is down'
          : 'The controller has no power',
    pin: {
      get: () => sessionStorage.getItem('nolvi bench pin'),
      set: pin => sessionStorage.setItem('nolvi bench pin', pin),
    },
    ask(wish) {
      if (wish.kind === 'scene')
        store.act({ do: 'scene', surfaceId, sceneId: design.scenes[wish.scene]?.id ?? '' })
      else
        store.act({
          do: wish.kind,
          surfaceId,
          loadId: design.loads[wish.load]?.id ?? '',
          want: wish.want,
        })
      store.run()
    },
  }
}
