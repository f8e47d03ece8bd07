/** The story of a stranger who sends again what was said, in words and on the bench. */
import { Bench } from '../bench/bench'
import type { Action, BenchScript } from '../bench/script'
import type { FateOf } from '../bench/wire'
import { standsStillMs } from '../controller/outputs/rows'
import { commanding, handSurfaces, linkOf, loadOf } from '../design/find'
import { isAnswered, worstWayMs } from '../design/links/traits'
import { endsItself, isHeld } from '../design/outputs/traits'
import type { Design, FarSurface, Link, Load } from '../design/schema'
import { restOf, valueWords, wantsOn } from '../design/values'
import { askText } from '../surfaces/surface'
import { seconds } from '../units/format'
import { heldUpMs, keptBackMs, LATER_MS } from './handed-out'
import { commandMs } from './project'
import type { Story } from './story/story'

export type Doing = { do: 'key' | 'jam'; want: string } | { do: 'end' | 'again' | 'later' }
type StoryStep = Story['steps'][number]

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

/** `was`, `is`: what the load is before the stranger sends, and after. */
export function tell(
  design: Design,
  loadId: string,
  surface: FarSurface,
  way: readonly Doing[],
  was: string,
  is: string,
): Story {
  return new Telling(design, loadOf(design, loadId), surface, way, is).story(was)
}

/** While a stranger jams the air; `but`: what comes through at that moment is held up. */
interface Jam {
  from: number
  to: number
  but: number
}

/** Times in ms. */
class Telling {
  private readonly script: BenchScript = { seed: 1, steps: [] }
  private readonly fates: NonNullable<BenchScript['fates']> = {}
  private readonly link: Link
  /** What the surface asks by itself. */
  private readonly ask: string
  private readonly jams: Jam[] = []
  private readonly gap: number
  private readonly still: number
  private readonly upMs: number
  private readonly laterMs: number
  private readonly triedMs: number
  private readonly giveUpMs: number
  private recordedUntil = 0
  private t: number

  constructor(
    private readonly design: Design,
    private readonly load: Load,
    private readonly surface: FarSurface,
    private readonly way: readonly Doing[],
    private readonly is: string,
  ) {
    const link = (this.link = linkOf(design, surface.linkId))
    this.ask = askText(link)
    const { auth } = link
    const { policy, timeoutMs, retries } = surface.belief
    const waitsMs = policy === 'confirm' ? timeoutMs : 0
    // What carries the time is good for a while only.
    this.gap = commandMs(link) + 400
    // What is jammed is said at once, or where it has to be told its number first.
    const jamMs = Math.max(waitsMs, 2 * worstWayMs(link))
    this.upMs = isAnswered(auth) ? heldUpMs(link, surface) : 0
    this.laterMs = keptBackMs(auth, jamMs, this.upMs)
    this.still = standsStillMs(load.output)
    this.triedMs = waitsMs * retries
    this.giveUpMs = this.triedMs + (isAnswered(auth) ? jamMs + 1 : waitsMs + this.gap)
    this.t = 1000 + this.still
  }

  story(was: string): Story {
    const { script, surface, jams, is } = this
    const { name, output } = this.load
    const steps = this.way.map((doing, i) => this.step(doing, i))
    script.untilMs = this.t + this.gap
    const bench = this.played()
    if (Object.keys(this.fates).length) script.fates = this.fates
    const changes = bench.trace.truth[this.load.id] ?? []
    const nobody = jams.length ? 'Nobody of the house is there' : 'Nobody of the house asked'
    return {
      surfaceId: surface.id,
      what: jams.length ? 'kept back by a stranger' : 'replayed by a stranger',
      steps,
      ending: `${nobody}, and ${name} goes from ${valueWords(output, was)} to ${valueWords(output, is)}`,
      script,
      replayed: changes.some(
        (c, i) => c.t >= this.t && c.value === is && changes[i - 1]?.value !== is,
      ),
    }
  }

  private step(doing: Doing, i: number): StoryStep {
    this.t += this.gap + (i > 0 ? this.still : 0)
    switch (doing.do) {
      case 'key':
      case 'jam':
        return this.pressed(doing, this.way[i + 1])
      case 'end':
        return this.ended()
      case 'again':
      case 'later':
        return this.sentAgain(doing.do)
    }
  }

  private pressed(doing: Extract<Doing, { want: string }>, next: Doing | undefined): StoryStep {
    const { script, surface, load, link, still, t } = this
    const jammed = doing.do === 'jam'
    const action = { do: 'key', surfaceId: surface.id, loadId: load.id, want: doing.want } as const
    script.steps.push({ atMs: t, action })
    // A finger that holds is taken away, and what it said stays recorded.
    if (isHeld(load.output) && next?.do !== 'key')
      script.steps.push(
        { atMs: t + 1, action: { do: 'linkDown', linkId: link.id } },
        { atMs: t + still + 10, action: { do: 'linkUp', linkId: link.id } },
      )
    if (jammed) this.jams.push({ from: t, to: t + this.giveUpMs, but: t + this.triedMs })
    if (jammed || !this.jams.length) this.recordedUntil = t + this.giveUpMs
    this.t += this.giveUpMs
    const key = `${surface.name}: ${doing.want === 'flip' ? 'key' : doing.want} of ${load.name}; a stranger records it`
    const more = ' and jams the air, so that it does not arrive, and whoever pressed gives up'
    return told(jammed ? key + more : key, 'key', surface.id)
  }

  private ended(): StoryStep {
    const { name, output } = this.load
    this.t += this.still + this.link.timing.reconnectMs
    const by = broughtToRest(this.design, this.load, this.surface)
    if (!by) return told(`it ends: ${name} goes off`, 'timer')
    this.script.steps.push({ atMs: this.t - 10, action: by.action })
    this.t += this.giveUpMs
    return told(`${by.words}: ${name} goes ${valueWords(output, restOf(output))}`, by.kind)
  }

  private sentAgain(when: 'again' | 'later'): StoryStep {
    const { link, laterMs, load } = this
    const goes = `${load.name} goes ${valueWords(load.output, this.is)}`
    if (when === 'later')
      // A number does not wait.
      this.t += laterMs - (isAnswered(link.auth) ? this.gap + this.still : 0)
    else
      this.t +=
        (this.design.controllers[0]?.bootMs ?? 0)
        + link.timing.reconnectMs
        + (link.numbered ? link.numbered.windowMs + 10 : 0)
    this.script.steps.push({ atMs: this.t, action: { do: 'replay', linkId: link.id } })
    if (when === 'again') return told(`The stranger sends it again: ${goes}`, 'fault')
    const after = laterMs === LATER_MS ? 'an hour' : seconds(laterMs)
    return told(`${after} later the stranger sends what was kept back: ${goes}`, 'fault')
  }

  /** On the bench; what was said since has to be told from what was recorded. */
  private played(): Bench {
    const { design, script, link, t, ask } = this
    const bench = run(design, script, this.fate)
    const since = bench.trace.messages.filter(
      m =>
        m.linkId === link.id
        && m.dir === 'up'
        && m.text !== ask
        && m.sentMs > this.recordedUntil
        && m.sentMs < t,
    ).length
    const sends = script.steps.at(-1)?.action
    if (!since || sends?.do !== 'replay') return bench
    sends.back = since
    return run(design, script, this.fate)
  }

  /**
   * Every try of the command is jammed; what the surface asks is let through, and nothing else is
   * lost.
   */
  private readonly fate: FateOf = (key, dir, text, now) => {
    const { link, fates } = this
    if (dir === 'down' || text === this.ask) return undefined
    if (key.slice(0, key.indexOf(' ')) === link.id) {
      const jam = this.jams.find(j => now >= j.from && now <= j.to)
      // Where a number has to be handed out, the last try comes through as far as that, held up.
      if (jam)
        return (fates[key] =
          isAnswered(link.auth) && now === jam.but ? now + 1 + this.upMs : 'lost')
    }
    return this.design.links.some(l => l.timing.lossPerMille > 0 && key.startsWith(`${l.id} `))
      ? (fates[key] = now + link.timing.minMs + 1)
      : undefined
  }
}

function told(words: string, kind: StoryStep['kind'], surfaceId: string | null = null): StoryStep {
  return { words, kind, surfaceId, is: null, shows: null }
}

/** What goes round for ever on an echo is stopped: such a run comes to nothing. */
const MOST_EVENTS = 100_000

function run(design: Design, script: BenchScript, fate: FateOf): Bench {
  const bench = new Bench(design, script.seed, fate)
  bench.plan(script.steps)
  bench.advance(script.untilMs ?? 0, MOST_EVENTS)
  return bench
}
