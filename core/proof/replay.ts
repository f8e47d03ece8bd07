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
import { Bench } from '../bench/bench'
import type { FateOf } from '../bench/wire'
import type { Action, BenchScript } from '../bench/script'
import { handSurfaces, linkOf, loadOf, maybeMessage, farSurfaces, surfaceOf } from '../design/find'
import type { Design, Load, FarSurface } from '../design/schema'
import { restOf, valueWords, wantsOn } from '../design/values'
import type { Motion } from '../controller/outputs/motion'
import { compileController, type Program } from '../controller/program'
import { step, startController, type ControllerState } from '../controller/step'
import {
  askText,
  compileSurface,
  surfaceStep,
  startSurface,
  type SurfaceProgram,
  type SurfaceState,
} from '../surfaces/surface'
import { standsStillMs, timerMs } from '../controller/outputs/rows'
import {
  answered,
  exchanged,
  handedOn,
  heldUpMs,
  keptBackMs,
  LATER_MS,
  outwaitsNumbers,
  type Ends,
} from './handed-out'
import { commandMs, project } from './project'
import type { Story } from './story/story'
import { endsItself, isHeld } from '../design/outputs/traits'
import { mediumOf } from '../design/links/media'
import { isAnswered, takesOnce, worstWayMs } from '../design/links/traits'
import { seconds } from '../units/format'

type Doing = { do: 'key' | 'jam'; want: string } | { do: 'end' | 'again' | 'later' }
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

/** Panels and boxes that can command a load. */
export function commanding(design: Design, loadId: string): FarSurface[] {
  return farSurfaces(design).filter(s => maybeMessage(linkOf(design, s.linkId), loadId))
}

/** However many keys are pressed. */
export function replaySearch(whole: Design, loadId: string, surfaceId: string): ReplayResult {
  const design = project(whole, loadId, { keepsProofs: true })
  const program = compileController(design)
  const surface = surfaceOf(design, surfaceId) as FarSurface
  const panel = compileSurface(design, surfaceId)
  const link = design.links.findIndex(l => l.id === surface.linkId)
  const { output } = loadOf(design, loadId)
  const wants = wantsOn(surface.keys, loadOf(design, loadId))
  const rest = restOf(output)
  /** What the board does at once: a pulse is over later. */
  const hears = (board: ControllerState, text: string): ControllerState =>
    step(program, board, { kind: 'received', now: board.now, link, text }).state
  const { auth } = linkOf(design, surface.linkId)
  const ends: Ends = { program, panel, link }
  // A counter is out of its window after so many later ones.
  const most = auth.kind === 'counter' ? auth.window + 1 : 0
  const key = (
    { board, recorded, kept, way }: Node,
    s: SurfaceState,
    sends: readonly string[],
    doing: Doing,
  ): Node => {
    const { board: after, state, texts } = exchanged(ends, board, s, sends, b => rested(program, b))
    return {
      board: after,
      panel: {
        ...state,
        asked: [],
        beliefs: state.beliefs.map(b =>
          b.waiting ? { ...b, value: b.waiting.asked, waiting: null } : b,
        ),
      },
      recorded: texts.at(-1) ?? recorded,
      kept: kept && { ...kept, since: Math.min(most, kept.since + texts.length) },
      way: [...way, doing],
    }
  }
  const outwaited = outwaitsNumbers(linkOf(design, surface.linkId), surface, output)
  /**
   * What the board takes much later: numbers are forgotten after a while, and a stranger has time.
   */
  const later = (board: ControllerState, text: string) =>
    hears({ ...board, links: board.links.map(l => ({ ...l, seen: [] })) }, text).value[0] as string
  const opens = (board: ControllerState, text: string) => {
    const is = later(board, text)
    return is !== board.value[0] && is !== rest ? is : null
  }
  const up = rested(
    program,
    step(
      program,
      step(program, startController(program), {
        kind: 'boot',
        now: 0,
        levels: program.inputs.map(() => 1),
      }).state,
      { kind: 'linkUp', now: 0, link },
    ).state,
  )
  const { onConnect } = linkOf(design, surface.linkId)
  const told =
    surface.pollMs > 0 || maybeMessage(linkOf(design, surface.linkId), loadId)?.change === true
  const knows = (state: SurfaceState, value: string): SurfaceState => ({
    ...state,
    beliefs: state.beliefs.map((b, i) => (i === 0 ? { ...b, value, stale: false } : b)),
  })
  const connected = surfaceStep(panel, startSurface(panel), { kind: 'linkUp', now: 0 }).state
  const first: Node = {
    board: up,
    panel: told || onConnect ? knows(connected, up.value[0] as string) : connected,
    recorded: '',
    kept: null,
    way: [],
  }
  const seen = new Set<string>()
  const lastKey = (way: readonly Doing[]) => way.findLast(d => d.do === 'key') ?? null
  const keyOf = ({ board, panel, kept, way }: Node) =>
    JSON.stringify([
      board.value,
      board.motion.map(timeless),
      panel.beliefs.map(b => b.value),
      lastKey(way),
      kept && [kept.want, kept.since, kept.number === handedOn(board, link)],
    ])
  let level = [first]
  let situations = 0
  while (level.length) {
    const next: Node[] = []
    for (const node of level) {
      const known = keyOf(node)
      if (seen.has(known)) continue
      seen.add(known)
      situations++
      const again = node.recorded === '' ? null : opens(node.board, node.recorded)
      if (again !== null)
        return {
          surfaceId,
          situations,
          why: '',
          story: tell(
            whole,
            loadId,
            surface,
            [...node.way, { do: 'again' }],
            node.board.value[0] as string,
            again,
          ),
        }
      const kept =
        node.kept?.texts.map(text => opens(node.board, text)).find(is => is !== null) ?? null
      if (kept !== null)
        return {
          surfaceId,
          situations,
          why: '',
          story: tell(
            whole,
            loadId,
            surface,
            [...node.way, { do: 'later' }],
            node.board.value[0] as string,
            kept,
          ),
        }
      for (const want of wants) {
        const { state, sends } = surfaceStep(panel, node.panel, {
          kind: 'key',
          now: 0,
          load: 0,
          want,
        })
        if (!sends.length) continue
        next.push(key(node, state, sends, { do: 'key', want }))
        if (!node.kept && !outwaited) {
          // Where a number has to be handed out first, that much is let through.
          const at = isAnswered(auth)
            ? answered(ends, node.board, state, sends[0] as string)
            : { board: node.board, state, texts: sends }
          if (!at.texts.length) continue
          const given = givesUp(panel, at.state, at.texts)
          next.push({
            ...node,
            board: at.board,
            panel: given.state,
            kept: { want, texts: given.texts, since: 0, number: handedOn(at.board, link) },
            way: [...node.way, { do: 'jam', want }],
          })
        }
      }
      // A pulse or hold ends by itself; anything else somebody else puts back to rest.
      if (node.board.value[0] !== rest)
        next.push({
          ...node,
          board: {
            ...node.board,
            value: node.board.value.with(0, rest),
            motion: first.board.motion,
          },
          panel: told ? knows(node.panel, rest) : node.panel,
          way: [...node.way, { do: 'end' }],
        })
    }
    level = next
  }
  return {
    surfaceId,
    situations,
    story: null,
    why: takesOnce(auth)
      ? `each command carries ${isAnswered(auth) ? 'a number that the board handed out' : 'a counter'} and its tag, and is taken once${outwaited ? `; whoever pressed waits longer than what is signed is good, so that nothing can be kept back longer` : ''}`
      : 'nothing it says opens anything',
  }
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

/**
 * Somebody of the house brings the load back to rest: in words, and what is done; null where it
 * ends by itself.
 */
function broughtToRest(
  design: Design,
  load: Load,
  surface: FarSurface,
): { words: string; kind: 'press' | 'key' | 'powerOn'; action: Action } | null {
  const { output } = load
  if (endsItself(output)) return null
  const rest = restOf(output)
  const button = handSurfaces(design)
    .flatMap(s => s.controls)
    .find(
      c => c.loadId === load.id && c.kind === 'push' && (c.asks === 'toggle' || c.asks === rest),
    )
  if (button)
    return {
      words: 'somebody presses its button',
      kind: 'press',
      action: { do: 'press', controlId: button.id },
    }
  if (!('powerUp' in output) || output.powerUp === 'off')
    return { words: 'the board starts anew', kind: 'powerOn', action: { do: 'restart' } }
  const others = commanding(design, load.id).filter(s => s.id !== surface.id)
  for (const s of [...others, surface]) {
    const want = wantsOn(s.keys, load).find(w => w === rest || w === 'flip')
    if (want)
      return {
        words: `somebody presses a key of ${s.name}`,
        kind: 'key',
        action: { do: 'key', surfaceId: s.id, loadId: load.id, want },
      }
  }
  return { words: 'the board starts anew', kind: 'powerOn', action: { do: 'restart' } }
}

function tell(
  design: Design,
  loadId: string,
  surface: FarSurface,
  way: readonly Doing[],
  was: string,
  is: string,
): Story {
  const load = loadOf(design, loadId)
  const { name, output } = load
  const link = linkOf(design, surface.linkId)
  const script: BenchScript = { seed: 1, steps: [] }
  // What carries the time is good for a while only.
  const { auth } = link
  const gap = commandMs(link) + 400
  const { policy, timeoutMs, retries } = surface.belief
  const waitsMs = policy === 'confirm' ? timeoutMs : 0
  // What is jammed is said at once, or where it has to be told its number first.
  const jamMs = Math.max(waitsMs, 2 * worstWayMs(link))
  const upMs = isAnswered(auth) ? heldUpMs(link, surface) : 0
  const laterMs = keptBackMs(auth, jamMs, upMs)
  const still = standsStillMs(output)
  const triedMs = waitsMs * retries
  const giveUpMs = isAnswered(auth) ? triedMs + jamMs + 1 : triedMs + waitsMs + gap
  const jams: { from: number; to: number; but: number }[] = []
  let recordedUntil = 0
  let t = 1000 + still
  const steps = way.map((doing, i): Story['steps'][number] => {
    t += gap + (i > 0 ? still : 0)
    const key =
      'want' in doing
        ? `${surface.name}: ${doing.want === 'flip' ? 'key' : doing.want} of ${name}; a stranger records it`
        : ''
    switch (doing.do) {
      case 'key':
      case 'jam':
        script.steps.push({
          atMs: t,
          action: { do: 'key', surfaceId: surface.id, loadId, want: doing.want },
        })
        // A finger that holds is taken away, and what it said stays recorded.
        if (isHeld(output) && way[i + 1]?.do !== 'key')
          script.steps.push(
            { atMs: t + 1, action: { do: 'linkDown', linkId: link.id } },
            { atMs: t + still + 10, action: { do: 'linkUp', linkId: link.id } },
          )
        if (doing.do === 'jam') jams.push({ from: t, to: t + giveUpMs, but: t + triedMs })
        if (doing.do === 'jam' || !jams.length) recordedUntil = t + giveUpMs
        t += giveUpMs
        return {
          words:
            doing.do === 'jam'
              ? `${key} and jams the air, so that it does not arrive, and whoever pressed gives up`
              : key,
          kind: 'key',
          surfaceId: surface.id,
          is: null,
          shows: null,
        }
      case 'end': {
        t += still + link.timing.reconnectMs
        const by = broughtToRest(design, load, surface)
        if (!by)
          return {
            words: `it ends: ${name} goes off`,
            kind: 'timer',
            surfaceId: null,
            is: null,
            shows: null,
          }
        script.steps.push({ atMs: t - 10, action: by.action })
        t += giveUpMs
        return {
          words: `${by.words}: ${name} goes ${valueWords(output, restOf(output))}`,
          kind: by.kind,
          surfaceId: null,
          is: null,
          shows: null,
        }
      }
      case 'again':
      case 'later':
        t +=
          doing.do === 'later'
            ? // A number does not wait.
              laterMs - (isAnswered(auth) ? gap + still : 0)
            : (design.controllers[0]?.bootMs ?? 0)
              + link.timing.reconnectMs
              + (link.numbered ? link.numbered.windowMs + 10 : 0)
        script.steps.push({ atMs: t, action: { do: 'replay', linkId: link.id } })
        return {
          words:
            doing.do === 'later'
              ? `${laterMs === LATER_MS ? 'an hour' : seconds(laterMs)} later the stranger sends what was kept back: ${name} goes ${valueWords(output, is)}`
              : `The stranger sends it again: ${name} goes ${valueWords(output, is)}`,
          kind: 'fault',
          surfaceId: null,
          is: null,
          shows: null,
        }
    }
  })
  script.untilMs = t + gap
  // Every try of the command is jammed; what the surface asks is let through, and nothing else is
  // lost.
  const ask = askText(link)
  const fates: NonNullable<BenchScript['fates']> = {}
  const fate: FateOf = (key, dir, text, now) => {
    if (dir === 'down' || text === ask) return undefined
    if (key.slice(0, key.indexOf(' ')) === link.id) {
      const jam = jams.find(j => now >= j.from && now <= j.to)
      // Where a number has to be handed out, the last try comes through as far as that, held up.
      if (jam) return (fates[key] = isAnswered(auth) && now === jam.but ? now + 1 + upMs : 'lost')
    }
    return design.links.some(l => l.timing.lossPerMille > 0 && key.startsWith(`${l.id} `))
      ? (fates[key] = now + link.timing.minMs + 1)
      : undefined
  }
  let bench = run(design, script, fate)
  // What was said since has to be told from what was recorded.
  const since = bench.trace.messages.filter(
    m =>
      m.linkId === link.id
      && m.dir === 'up'
      && m.text !== ask
      && m.sentMs > recordedUntil
      && m.sentMs < t,
  ).length
  const sends = script.steps.at(-1)?.action
  if (since && sends?.do === 'replay') {
    sends.back = since
    bench = run(design, script, fate)
  }
  if (Object.keys(fates).length) script.fates = fates
  const changes = bench.trace.truth[loadId] ?? []
  const opened = changes.some((c, i) => c.t >= t && c.value === is && changes[i - 1]?.value !== is)
  const ending = `${jams.length ? 'Nobody of the house is there' : 'Nobody of the house asked'}, and ${name} goes from ${valueWords(output, was)} to ${valueWords(output, is)}`
  return {
    surfaceId: surface.id,
    what: jams.length ? 'kept back by a stranger' : 'replayed by a stranger',
    steps,
    ending,
    script,
    replayed: opened,
  }
}

/** What goes round for ever on an echo is stopped: such a run comes to nothing. */
const MOST_EVENTS = 100_000

function run(design: Design, script: BenchScript, fate: FateOf): Bench {
  const bench = new Bench(design, script.seed, fate)
  bench.plan(script.steps)
  bench.advance(script.untilMs ?? 0, MOST_EVENTS)
  return bench
}
