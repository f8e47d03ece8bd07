/**
 * Conformance scenarios of surfaces: what a panel is given, what it says and shows, to the
 * millisecond. conformance/README.md tells their form.
 */
import {
  BadScenario,
  blocksIn,
  indexOf,
  Making,
  placed,
  readLines,
  timeOf,
} from '../controller/scenario'
import { NEW_PANEL, type BeliefPolicy, type Design } from '../design/schema'
import { octets } from '../bytes/text'
import { visible } from '../bytes/template'
import { clock32 } from '../units/clock'
import type { SurfaceEvent, Shown, Via } from './surface'

export interface SurfaceScenario {
  title: string
  file: string
  line: number
  says: string
  design: Design
  given: { t: number; event: GivenEvent }[]
  endMs: number
  /** "100 says fan=on\n", "120 shows fan on". */
  expected: string[]
}
type GivenEvent = Exclude<SurfaceEvent, { kind: 'tick' }>
/** The surface of a scenario. */
export const SURFACE = 'surface'

/** What a scenario needs of an implementation. */
export interface SurfaceImplementation {
  handle: (event: SurfaceEvent) => readonly string[]
  due: () => number | null
  shown: (load: number) => Shown
}

/** Reads scenarios of surfaces. Throws `BadScenario` with the line. */
export function surfaceScenariosIn(text: string, file = ''): SurfaceScenario[] {
  return blocksIn(text).map(({ start, lines }) => scenarioOf(lines, file, start))
}

const VIAS: Record<string, Via> = {
  hears: 'stream',
  answer: 'command',
  state: 'ask',
  refused: 'refused',
}

function scenarioOf(lines: readonly string[], file: string, start: number): SurfaceScenario {
  const makes = new Making()
  let belief: BeliefPolicy = { policy: 'confirm', timeoutMs: 800, retries: 1, onLoss: 'stale' }
  let pollMs = 0
  let endMs = 0
  const { title, says, inputs, expected } = readLines(lines, file, start, (head, words) => {
    if (head !== 'panel') return makes.line(head, words)
    for (const word of words) {
      const [key = '', value = ''] = word.split('=')
      if (key === 'pollMs') pollMs = Number(value)
      else belief = { ...belief, [key]: /^\d+$/.test(value) ? Number(value) : value }
    }
  })
  const design = makes.design()
  const [link] = design.links
  if (!link) throw new BadScenario(`${file}:${start}: it has no link`)
  design.surfaces.push({
    kind: 'panel',
    id: SURFACE,
    name: 'Surface',
    linkId: link.id,
    ...NEW_PANEL,
    pollMs,
    belief,
    keys: [],
  })
  const given = inputs.flatMap(({ words: [at = '', what = '', rest = ''], line }) =>
    placed(file, line, () => {
      const t = timeOf(at)
      endMs = Math.max(endMs, t)
      return what === 'end' ? [] : [{ t, event: eventOf(design, t, what, rest) }]
    }),
  )
  if (!expected.length) throw new BadScenario(`${file}:${start}: it expects nothing`)
  return { title, file, line: start, says, design, given, endMs, expected }
}

function eventOf(design: Design, now: number, what: string, rest: string): GivenEvent {
  const [first = '', want = ''] = rest.split(/\s+/)
  switch (what) {
    case 'up':
      return { kind: 'linkUp', now }
    case 'down':
      return { kind: 'linkDown', now }
    case 'key':
    case 'slide':
      return { kind: what, now, load: indexOf(design.loads, first, 'load'), want }
    case 'scene':
      return { kind: 'scene', now, scene: indexOf(design.scenes, first, 'scene') }
    default: {
      const via = VIAS[what]
      if (!via) throw new BadScenario(`"${what}" is nothing that a surface is given`)
      return {
        kind: 'received',
        now,
        via,
        text: octets(rest.replaceAll('\\n', '\n')),
      }
    }
  }
}

/** Plays a scenario; returns all that the surface says, and each change of what it shows. */
export function surfacePlayed(
  { design, given, endMs }: SurfaceScenario,
  surface: SurfaceImplementation,
): string[] {
  const out: string[] = []
  const showed = design.loads.map((_, i) => surface.shown(i))
  let now = 0
  const fire = (event: SurfaceEvent) => {
    for (const text of surface.handle(event)) out.push(`${event.now} says ${visible(text)}`)
    design.loads.forEach(({ id }, i) => {
      const shown = surface.shown(i)
      if (shown !== showed[i]) out.push(`${event.now} shows ${id} ${shown}`)
      showed[i] = shown
    })
  }
  /** What is due at a time comes before what is given then. */
  const pass = (t: number) => {
    for (
      let due = surface.due();
      due !== null && now + Math.max(0, (due - clock32(now)) | 0) <= t;
      due = surface.due()
    ) {
      now += Math.max(0, (due - clock32(now)) | 0)
      fire({ kind: 'tick', now })
    }
    now = t
  }
  for (const { t, event } of given) {
    pass(t)
    fire(event)
  }
  pass(endMs)
  return out
}
