/**
 * Promise P8: somebody who recorded commands sends one again, at any later moment. Here commands keep their words, counters and
 * numbers. Each arrives at once: what is asked is only whether the board takes it a second time. Breadth first over the board,
 * the surface and what was recorded last, to the end. Counters and numbers grow without end and are left out of what makes two situations
 * differ: each command arrives, so the board has always seen just those that were said, and the recording is always the last of them.
 */
import { runScript } from '../bench/bench'
import type { BenchScript } from '../bench/script'
import { handSurfaces, linkOf, loadOf, maybeMessage, remotes, surfaceOf } from '../design/find'
import type { Design, RemoteSurface } from '../design/schema'
import { restOf, valueWords, wantsOn } from '../design/values'
import { compileController } from '../controller/program'
import { step, startController, type ControllerState } from '../controller/step'
import { compilePanel, panelStep, startPanel, type PanelState } from '../surfaces/panel'
import { worstWayMs, project } from './project'
import type { Story } from './story'

type Doing = { do: 'key', want: string } | { do: 'end' } | { do: 'again' }
interface Node { board: ControllerState, panel: PanelState, recorded: string, way: Doing[] }

export interface ReplayResult { surfaceId: string, story: Story | null, situations: number, why: string }

/** Links that nobody can listen to without touching them. */
export function canBeOverheard(design: Design, surface: RemoteSurface): boolean { return linkOf(design, surface.linkId).kind !== 'wire' }

export function commanding(design: Design, loadId: string): RemoteSurface[] {
  return remotes(design).filter(s => maybeMessage(linkOf(design, s.linkId), loadId))
}

/** However many keys are pressed. */
export function replaySearch(whole: Design, loadId: string, surfaceId: string): ReplayResult {
  const design = project(whole, loadId, { keepsProofs: true })
  const program = compileController(design)
  const surface = surfaceOf(design, surfaceId) as RemoteSurface
  const panel = compilePanel(design, surfaceId)
  const link = design.links.findIndex(l => l.id === surface.linkId)
  const { output } = loadOf(design, loadId)
  const wants = wantsOn(surface.keys, loadOf(design, loadId))
  const rest = restOf(output)
  const deliver = (board: ControllerState, text: string): ControllerState => step(program, board, { kind: 'received', now: board.now, link, text }).state
  const key = ({ board, recorded, way }: Node, s: PanelState, sends: readonly string[], doing: Doing): Node => ({
    board: sends.reduce(deliver, board), panel: s, recorded: sends.at(-1) ?? recorded, way: [...way, doing],
  })
  const up = step(program, step(program, startController(program), { kind: 'boot', now: 0, levels: program.inputs.map(() => 1) }).state, { kind: 'linkUp', now: 0, link }).state
  const first: Node = { board: up, panel: panelStep(panel, startPanel(panel), { kind: 'linkUp', now: 0 }).state, recorded: '', way: [] }
  const seen = new Set<string>()
  const lastKey = (way: readonly Doing[]) => way.findLast(d => d.do === 'key') ?? null
  const keyOf = ({ board, panel, way }: Node) => JSON.stringify([board.value, board.motion, panel.beliefs.map(b => b.value), lastKey(way)])
  let level = [first]
  let situations = 0
  while (level.length) {
    const next: Node[] = []
    for (const node of level) {
      const known = keyOf(node)
      if (seen.has(known)) continue
      seen.add(known)
      situations++
      if (node.recorded !== '') {
        // Numbers are forgotten after a while, and a stranger has time.
        const after = deliver({ ...node.board, links: node.board.links.map(l => ({ ...l, seen: [] })) }, node.recorded)
        if (after.value[0] !== node.board.value[0] && after.value[0] !== rest) return { surfaceId, situations, why: '', story: tell(whole, loadId, surface, [...node.way, { do: 'again' }], node.board.value[0] as string, after.value[0] as string) }
      }
      for (const want of wants) {
        const { state, sends } = panelStep(panel, node.panel, { kind: 'key', now: 0, load: 0, want })
        if (sends.length) next.push(key(node, { ...state, beliefs: state.beliefs.map(b => b.waiting ? { ...b, value: b.waiting.asked, waiting: null } : b) }, sends, { do: 'key', want }))
      }
      // A pulse or hold ends by itself; anything else somebody else puts back to rest.
      if (node.board.value[0] !== rest) next.push({ ...node, board: { ...node.board, value: node.board.value.with(0, rest), motion: first.board.motion }, way: [...node.way, { do: 'end' }] })
    }
    level = next
  }
  const { auth } = linkOf(design, surface.linkId)
  return { surfaceId, situations, story: null, why: auth.kind === 'counter' ? 'each command carries a counter and its tag, and is taken once' : 'nothing it says opens anything' }
}

function tell(design: Design, loadId: string, surface: RemoteSurface, way: readonly Doing[], was: string, is: string): Story {
  const { name, output } = loadOf(design, loadId)
  const link = linkOf(design, surface.linkId)
  const script: BenchScript = { seed: 1, steps: [] }
  const gap = worstWayMs(link) + 400
  const lasts = output.kind === 'pulsed' ? output.lengthMs : output.kind === 'held' ? output.timeoutMs : 0
  const button = handSurfaces(design).flatMap(s => s.controls).find(c => c.loadId === loadId && c.kind === 'push' && (c.asks === 'toggle' || c.asks === restOf(output)))
  let t = 1000
  const steps = way.map((doing, i): Story['steps'][number] => {
    t += gap
    switch (doing.do) {
      case 'key':
        script.steps.push({ atMs: t, action: { do: 'key', surfaceId: surface.id, loadId, want: doing.want } })
        // A finger that holds is taken away, and what it said stays recorded.
        if (output.kind === 'held' && way[i + 1]?.do !== 'key') script.steps.push({ atMs: t + 1, action: { do: 'linkDown', linkId: link.id } }, { atMs: t + lasts + 10, action: { do: 'linkUp', linkId: link.id } })
        return { words: `${surface.name}: ${doing.want === 'flip' ? 'key' : doing.want} of ${name}; a stranger records it`, kind: 'key', surfaceId: surface.id, is: null, shows: null }
      case 'end':
        t += lasts + link.timing.reconnectMs
        if (output.kind === 'pulsed' || output.kind === 'held') return { words: `it ends: ${name} goes off`, kind: 'timer', surfaceId: null, is: null, shows: null }
        script.steps.push({ atMs: t - 10, action: button ? { do: 'press', controlId: button.id } : { do: 'restart' } })
        return { words: `${button ? 'somebody presses its button' : 'the board starts anew'}: ${name} goes ${valueWords(output, restOf(output))}`, kind: button ? 'press' : 'powerOn', surfaceId: null, is: null, shows: null }
      case 'again':
        t += design.controllers[0]?.bootMs ?? 0
        t += link.timing.reconnectMs + (link.numbered ? link.numbered.windowMs + 10 : 0)
        script.steps.push({ atMs: t, action: { do: 'replay', linkId: link.id } })
        return { words: `The stranger sends it again: ${name} goes ${valueWords(output, is)}`, kind: 'fault', surfaceId: null, is: null, shows: null }
    }
  })
  script.untilMs = t + gap
  const bench = runScript(design, script)
  const changes = bench.trace.truth[loadId] ?? []
  const opened = changes.some((c, i) => c.t >= t && c.value === is && changes[i - 1]?.value !== is)
  return { surfaceId: surface.id, what: 'replayed by a stranger', steps, ending: `Nobody of the house asked, and ${name} goes from ${valueWords(output, was)} to ${valueWords(output, is)}`, script, replayed: opened }
}
