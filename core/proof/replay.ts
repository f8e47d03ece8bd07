/**
 * Promise P8: somebody who listens sends a command again, at any later moment; or jams one, so that
 * whoever pressed gives up, keeps it back, and sends it later, whatever was pressed meanwhile. Here
 * commands keep their words, counters and numbers. Each that is not jammed arrives at once: what is
 * asked is only whether the board takes what the stranger sends. Breadth first over the board, the
 * surface, what was recorded last and what is kept back, to the end. Counters and numbers grow
 * without end and are left out of what makes two situations differ: the recording is always the
 * last command that arrived, and of what is kept back it is known how many arrived since, as far as
 * that matters to the window of counters.
 */
import { linkOf, loadOf, maybeMessage, surfaceOf } from '../design/find'
import type { Design, FarSurface, Link } from '../design/schema'
import { restOf, wantsOn } from '../design/values'
import type { Motion } from '../controller/outputs/motion'
import { compileController, type Program } from '../controller/program'
import { step, startController, type ControllerState } from '../controller/step'
import {
  compileSurface,
  surfaceStep,
  startSurface,
  type SurfaceProgram,
  type SurfaceState,
} from '../surfaces/surface'
import { timerMs } from '../controller/outputs/rows'
import { answered, exchanged, handedOn, outwaitsNumbers, type Ends } from './handed-out'
import { project } from './project'
import { tell, type Doing } from './replay-story'
import type { Story } from './story/story'
import { endsItself } from '../design/outputs/traits'
import { mediumOf } from '../design/links/media'
import { isAnswered, takesOnce } from '../design/links/traits'

/** What was jammed: the key, all that was said for it, and how many commands arrived since. */
interface Kept {
  want: string
  texts: readonly string[]
  since: number
  /** The number that it is signed with, where the board handed one out. */
  number: number | null
}
interface Node {
  board: ControllerState
  panel: SurfaceState
  recorded: string
  kept: Kept | null
  way: Doing[]
}

export interface ReplayResult {
  surfaceId: string
  story: Story | null
  situations: number
  why: string
}

/** Links that nobody can listen to without touching them. */
export function canBeOverheard(design: Design, surface: FarSurface): boolean {
  return mediumOf(linkOf(design, surface.linkId)).overheard
}

/** However many keys are pressed. */
export function replaySearch(whole: Design, loadId: string, surfaceId: string): ReplayResult {
  return new Replays(whole, loadId, surfaceId).result()
}

class Replays {
  private readonly program: Program
  private readonly surface: FarSurface
  private readonly panel: SurfaceProgram
  private readonly link: Link
  private readonly linkAt: number
  private readonly ends: Ends
  private readonly wants: readonly string[]
  private readonly rest: string
  private readonly outwaited: boolean
  /** The surface is told what the load is, without asking. */
  private readonly told: boolean
  private readonly first: Node

  constructor(
    private readonly whole: Design,
    private readonly loadId: string,
    surfaceId: string,
  ) {
    const design = project(whole, loadId, { keepsProofs: true })
    const { output } = loadOf(design, loadId)
    this.program = compileController(design)
    const surface = (this.surface = surfaceOf(design, surfaceId) as FarSurface)
    this.panel = compileSurface(design, surfaceId)
    this.linkAt = design.links.findIndex(l => l.id === surface.linkId)
    const link = (this.link = linkOf(design, surface.linkId))
    this.ends = { program: this.program, panel: this.panel, link: this.linkAt }
    this.wants = wantsOn(surface.keys, loadOf(design, loadId))
    this.rest = restOf(output)
    this.outwaited = outwaitsNumbers(link, surface, output)
    this.told = surface.pollMs > 0 || maybeMessage(link, loadId)?.change === true
    this.first = this.beginning()
  }

  result(): ReplayResult {
    const { surface, link, outwaited } = this
    const seen = new Set<string>()
    let level = [this.first]
    let situations = 0
    while (level.length) {
      const next: Node[] = []
      for (const node of level) {
        const known = this.keyOf(node)
        if (seen.has(known)) continue
        seen.add(known)
        situations++
        const story = this.opened(node)
        if (story) return { surfaceId: surface.id, situations, why: '', story }
        next.push(...this.after(node))
      }
      level = next
    }
    const { auth } = link
    return {
      surfaceId: surface.id,
      situations,
      story: null,
      why: takesOnce(auth)
        ? `each command carries ${isAnswered(auth) ? 'a number that the board handed out' : 'a counter'} and its tag, and is taken once${outwaited ? `; whoever pressed waits longer than what is signed is good, so that nothing can be kept back longer` : ''}`
        : 'nothing it says opens anything',
    }
  }

  /** The board has started, and the surface has joined. */
  private beginning(): Node {
    const { program, panel, linkAt, link, told } = this
    const levels = program.inputs.map(() => 1 as const)
    const started = step(program, startController(program), { kind: 'boot', now: 0, levels }).state
    const joined = step(program, started, { kind: 'linkUp', now: 0, link: linkAt }).state
    const board = rested(program, joined)
    const connected = surfaceStep(panel, startSurface(panel), { kind: 'linkUp', now: 0 }).state
    const learns = told || link.onConnect
    return {
      board,
      panel: learns ? knows(connected, board.value[0] as string) : connected,
      recorded: '',
      kept: null,
      way: [],
    }
  }

  /** What a situation is; what grows without end is left out. */
  private keyOf({ board, panel, kept, way }: Node): string {
    const lastKey = way.findLast(d => d.do === 'key') ?? null
    return JSON.stringify([
      board.value,
      board.motion.map(timeless),
      panel.beliefs.map(b => b.value),
      lastKey,
      kept && [kept.want, kept.since, kept.number === handedOn(board, this.linkAt)],
    ])
  }

  /** How something that a stranger has opens the load from here. */
  private opened({ board, recorded, kept, way }: Node): Story | null {
    const again = recorded === '' ? null : this.opens(board, recorded)
    if (again !== null) return this.tell([...way, { do: 'again' }], board, again)
    const later = kept?.texts.map(text => this.opens(board, text)).find(is => is !== null) ?? null
    return later === null ? null : this.tell([...way, { do: 'later' }], board, later)
  }

  private tell(way: readonly Doing[], board: ControllerState, is: string): Story {
    const { whole, loadId, surface } = this
    return tell(whole, loadId, surface, way, board.value[0] as string, is)
  }

  /** What a text opens now; null where it moves nothing, or only to rest. */
  private opens(board: ControllerState, text: string): string | null {
    // Numbers are forgotten after a while, and a stranger has time.
    const forgot = { ...board, links: board.links.map(l => ({ ...l, seen: [] })) }
    const is = this.hears(forgot, text).value[0] as string
    return is !== board.value[0] && is !== this.rest ? is : null
  }

  /** What the board does at once: a pulse is over later. */
  private hears(board: ControllerState, text: string): ControllerState {
    const event = { kind: 'received', now: board.now, link: this.linkAt, text } as const
    return step(this.program, board, event).state
  }

  private *after(node: Node): Generator<Node> {
    for (const want of this.wants) {
      const pressed = surfaceStep(this.panel, node.panel, { kind: 'key', now: 0, load: 0, want })
      if (!pressed.sends.length) continue
      yield this.arrived(node, pressed.state, pressed.sends, want)
      const jammed = node.kept || this.outwaited ? null : this.jammed(node, pressed, want)
      if (jammed) yield jammed
    }
    // A pulse or hold ends by itself; anything else somebody else puts back to rest.
    const { board, panel, way } = node
    if (board.value[0] === this.rest) return
    yield {
      ...node,
      board: { ...board, value: board.value.with(0, this.rest), motion: this.first.board.motion },
      panel: this.told ? knows(panel, this.rest) : panel,
      way: [...way, { do: 'end' }],
    }
  }

  /** A key was pressed, and what it says arrives. */
  private arrived(node: Node, state: SurfaceState, sends: readonly string[], want: string): Node {
    const { program, ends } = this
    const { auth } = this.link
    const { recorded, kept, way } = node
    const after = exchanged(ends, node.board, state, sends, b => rested(program, b))
    // A counter is out of its window after so many later ones.
    const most = auth.kind === 'counter' ? auth.window + 1 : 0
    const beliefs = after.state.beliefs.map(b =>
      b.waiting ? { ...b, value: b.waiting.asked, waiting: null } : b,
    )
    return {
      board: after.board,
      panel: { ...after.state, asked: [], beliefs },
      recorded: after.texts.at(-1) ?? recorded,
      kept: kept && { ...kept, since: Math.min(most, kept.since + after.texts.length) },
      way: [...way, { do: 'key', want }],
    }
  }

  /** Nothing of it arrives; null where nothing could be kept of it. */
  private jammed(
    node: Node,
    { state, sends }: { state: SurfaceState; sends: readonly string[] },
    want: string,
  ): Node | null {
    const { panel, ends, link, linkAt } = this
    // Where a number has to be handed out first, that much is let through.
    const at = isAnswered(link.auth)
      ? answered(ends, node.board, state, sends[0] as string)
      : { board: node.board, state, texts: sends }
    if (!at.texts.length) return null
    const given = givesUp(panel, at.state, at.texts)
    return {
      ...node,
      board: at.board,
      panel: given.state,
      kept: { want, texts: given.texts, since: 0, number: handedOn(at.board, linkAt) },
      way: [...node.way, { do: 'jam', want }],
    }
  }
}

function knows(state: SurfaceState, value: string): SurfaceState {
  const beliefs = state.beliefs.map((b, i) => (i === 0 ? { ...b, value, stale: false } : b))
  return { ...state, beliefs }
}

/** Longer than any time of a projected board but those of pulses and holds, ms. */
const OVER_MS = 100
/** There is time between any two things: least times, dead times, pulses and holds are over. */
function rested(program: Program, board: ControllerState): ControllerState {
  let state = board
  const longest = Math.max(
    ...program.loads.map(({ output }) => (endsItself(output) ? timerMs(output, 0) : 0)),
  )
  for (let n = 0; n < 4; n++)
    state = step(program, state, { kind: 'tick', now: state.now + OVER_MS + longest }).state
  // How long a number is good is asked by itself: here no time counts.
  const { links } = board
  return {
    ...state,
    links: state.links.map((l, i) => ({ ...l, handed: links[i]?.handed ?? null })),
  }
}

/** What is armed, not when it is due. */
function timeless(motion: Motion): string {
  return JSON.stringify(motion, (_, value: unknown) =>
    typeof value === 'number' && value > 1 ? 1 : value,
  )
}

/**
 * Nothing of what is said arrives: the surface says it again as often as it does, and then waits no
 * more. A finger is taken away.
 */
function givesUp(
  panel: SurfaceProgram,
  pressed: SurfaceState,
  sends: readonly string[],
): { state: SurfaceState; texts: string[] } {
  const texts = [...sends]
  let state: SurfaceState = { ...pressed, holds: pressed.holds.map(() => null) }
  while (state.beliefs.some(b => b.waiting)) {
    const now = state.beliefs.reduce((due, b) => Math.max(due, b.waiting?.due ?? 0), 0)
    const stepped = surfaceStep(panel, { ...state, pollDue: null }, { kind: 'tick', now })
    texts.push(...stepped.sends)
    state = { ...stepped.state, pollDue: state.pollDue }
  }
  return { state, texts: texts.filter(text => text !== panel.ask) }
}
