/**
 * Drills: the usual evenings gone wrong, made for any design. Each is a script with what is
 * expected of it; run on the bench it becomes a record. What is expected is that in the end
 * everybody shows the truth, within what the links and surfaces state.
 */
import { isDatagram, servesOne, throughRouter } from '../design/links/traits'
import { handSurfaces, linkOf, loadOf, maybeMessage, farSurfaces } from '../design/find'
import type { Control, Design, Link, Load, FarSurface } from '../design/schema'
import { fullOf, restOf, valueWords, wantsOn } from '../design/values'
import { seconds } from '../units/format'
import { runScript, type Bench } from './bench'
import { judgedAt, type Action, type BenchScript, type Expectation } from './script'
import { at, differs, indexAt, type Trace } from './trace'
import { isHeld, isSwitched, limitsOf } from '../design/outputs/traits'
import { seated } from '../design/seats'

export interface Drill {
  id: string
  title: string
  words: string
  loadId: string
  script: BenchScript
}
/** `unsure`: nobody shows anything wrong, but somebody does not know. */
export interface Held {
  expectation: Expectation
  words: string
  held: boolean
  unsure: boolean
  found: string
}
export interface DrillRecord {
  drillId: string
  title: string
  loadId: string
  seed: number
  held: Held[]
  passed: boolean
  unsure: boolean
  events: number
  wrong: { surfaceId: string; ms: number }[]
}

type Step = BenchScript['steps'][number]

/** Drills for a load; those that the design has no part for are left out. */
export function drillsFor(design: Design, loadId: string, seed = 1): Drill[] {
  return new Drills(seated(design), loadId, seed).all()
}

class Drills {
  private readonly drills: Drill[] = []
  private readonly load: Load
  private readonly surfaces: readonly FarSurface[]
  private readonly control: Control | undefined
  /** Until everybody has heard, and until a link is back and all have heard, ms. */
  private readonly settle: number
  private readonly back: number

  constructor(
    private readonly design: Design,
    private readonly loadId: string,
    private readonly seed: number,
  ) {
    this.load = loadOf(design, loadId)
    this.surfaces = farSurfaces(design).filter(s => maybeMessage(linkOf(design, s.linkId), loadId))
    this.control = handSurfaces(design)
      .flatMap(s => s.controls)
      .find(c => c.loadId === loadId)
    const settles = this.surfaces.map(s => settleMs(design, s))
    this.settle = Math.max(1000, ...settles)
    this.back = Math.max(
      1000,
      ...this.surfaces.map(s => this.link(s).timing.reconnectMs + settleMs(design, s)),
    )
  }

  all(): Drill[] {
    if (!this.control && !this.surfaces.length) return []
    this.byHand()
    for (const s of this.surfaces) this.ofSurface(s)
    this.ofNetwork()
    this.ofPower()
    this.ofContact()
    return this.drills
  }

  private link(s: FarSurface): Link {
    return linkOf(this.design, s.linkId)
  }

  private moves(ms: number): Step[] {
    return move(this.design, this.loadId, this.surfaces, this.control, ms)
  }

  private add(
    id: string,
    title: string,
    words: string,
    steps: Step[],
    atMs: number,
    withinMs: number,
    more: Expectation[] = [],
  ): void {
    const { loadId, seed } = this
    const script: BenchScript = {
      seed,
      steps: steps.toSorted((a, b) => a.atMs - b.atMs),
      expects: [{ kind: 'shows', atMs, withinMs, surfaces: [], loadId, value: 'truth' }, ...more],
      untilMs: atMs + withinMs + 1000,
    }
    this.drills.push({ id, title, words, loadId, script })
  }

  private byHand(): void {
    const { load, settle } = this
    this.add(
      'by-hand',
      'Switched once',
      `${load.name} is switched where it usually is; everybody hears of it.`,
      this.moves(1000),
      1500,
      settle,
    )
  }

  private ofSurface(s: FarSurface): void {
    const { design, load, loadId, settle, back } = this
    const { id } = this.link(s)
    this.add(
      `away-${s.id}`,
      `${s.name} out of range`,
      `It is out of reach while ${load.name} is switched elsewhere, and comes back.`,
      [
        { atMs: 1000, action: { do: 'linkDown', linkId: id } },
        ...this.moves(4000),
        { atMs: 8000, action: { do: 'linkUp', linkId: id } },
      ],
      8000,
      back,
    )
    this.add(
      `lost-${s.id}`,
      `${s.name}: a message is lost`,
      `The next message on its link is lost.`,
      [{ atMs: 900, action: { do: 'loseNext', linkId: id } }, ...this.moves(1000)],
      1500,
      settle,
    )
    this.add(
      `restart-${s.id}`,
      `${s.name} starts anew`,
      `It starts anew and knows nothing; nothing may move.`,
      [...this.moves(1000), { atMs: 6000, action: { do: 'restartBox', surfaceId: s.id } }],
      7000,
      back,
      [{ kind: 'stays', fromMs: 5900, toMs: 7000 + back, loadId }],
    )
    if (servesOne(this.link(s))) {
      this.add(
        `taken-${s.id}`,
        `${s.name}: somebody else is connected`,
        `While it is away another phone takes the link, and leaves it again.`,
        [
          { atMs: 1000, action: { do: 'linkDown', linkId: id } },
          { atMs: 2000, action: { do: 'strangerOn', linkId: id } },
          { atMs: 3000, action: { do: 'linkUp', linkId: id } },
          ...this.moves(6000),
          { atMs: 9000, action: { do: 'strangerOff', linkId: id } },
        ],
        9000,
        back,
      )
    }
    if (isDatagram(this.link(s))) {
      this.add(
        `twice-${s.id}`,
        `${s.name}: a datagram comes twice`,
        'The next datagram is delivered twice.',
        [
          { atMs: 900, action: { do: 'doubleNext', linkId: id } },
          ...keyOn(design, loadId, s, 1000),
        ],
        1500,
        settle,
      )
    }
  }

  private ofNetwork(): void {
    const { design, load, surfaces, back } = this
    if (surfaces.some(s => throughRouter(this.link(s)))) {
      this.add(
        'router',
        'Router down',
        `The router is off while ${load.name} is switched, and comes back.`,
        [
          { atMs: 1000, action: { do: 'routerDown' } },
          ...this.moves(5000),
          { atMs: 20_000, action: { do: 'routerUp' } },
        ],
        20_000,
        back,
      )
    }
    if (design.front) {
      this.add(
        'front',
        `${design.front.name} stops`,
        'The board in front stops while the load is switched by hand, and runs again.',
        [
          { atMs: 1000, action: { do: 'frontDown' } },
          ...this.moves(5000),
          { atMs: 9000, action: { do: 'frontUp' } },
        ],
        9000,
        back,
      )
    }
  }

  private ofPower(): void {
    const { design, load, loadId, back } = this
    const bootMs = design.controllers[0]?.bootMs ?? 0
    const { output } = load
    const powerUp = 'powerUp' in output ? output.powerUp : 'off'
    const after = { off: restOf(output), on: fullOf(output), last: null }[powerUp]
    const power = 20_000
    this.add(
      'power-cut',
      'Power cut',
      `The power goes while ${load.name} is on, and comes back after 5 s.`,
      [
        ...this.moves(1000),
        { atMs: power, action: { do: 'powerOff' } },
        { atMs: power + 5000, action: { do: 'powerOn' } },
      ],
      power + 5000 + bootMs,
      back + 200,
      after === null
        ? []
        : [
            {
              kind: 'is',
              atMs: power + 5000 + bootMs,
              withinMs: 200 + minOff(output),
              loadId,
              value: after,
            },
          ],
    )
    this.add(
      'restart',
      'Controller restarted',
      'The board restarts by itself.',
      [...this.moves(1000), { atMs: 12_000, action: { do: 'restart' } }],
      12_000 + bootMs,
      back + 200 + minOff(output),
    )
  }

  private ofContact(): void {
    const {
      load: { output },
      loadId,
      control,
      settle,
    } = this
    if (control) {
      this.add(
        'bounce',
        'A contact that bounces',
        'Old contacts: every movement bounces for up to 5 ms.',
        [{ atMs: 0, action: { do: 'contacts', bounce: true } }, ...presses(control, 1000)],
        1500,
        settle,
        control.kind === 'push' && control.asks === 'toggle' && isSwitched(output) && !output.limits
          ? [{ kind: 'is', atMs: 1500, withinMs: 1000, loadId, value: 'on' }]
          : [],
      )
    }
  }
}

function minOff(output: Design['loads'][number]['output']): number {
  return limitsOf(output)?.minOffMs ?? 0
}

/**
 * Until a surface has heard of a change, at the latest: its link at the worst, its retries, and the
 * next time it asks.
 */
function settleMs(design: Design, s: FarSurface): number {
  const link: Link = linkOf(design, s.linkId)
  const way = Math.ceil(link.timing.p99Ms * 1.5) + 200
  return (
    3 * way
    + (s.pollMs ? s.pollMs + link.timing.dropDetectMs : 0)
    + (s.belief.policy === 'confirm' ? s.belief.timeoutMs * (s.belief.retries + 1) : 0)
    + link.everyMs
    + link.leastMs
  )
}

function presses(control: Control, atMs: number): Step[] {
  return [{ atMs, action: { do: 'press', controlId: control.id } }]
}

/** The load is switched where it usually is: by hand, else from the first surface. */
function move(
  design: Design,
  loadId: string,
  surfaces: readonly FarSurface[],
  control: Control | undefined,
  atMs: number,
): Step[] {
  const [first] = surfaces
  if (control) return presses(control, atMs)
  return first ? keyOn(design, loadId, first, atMs) : []
}

function keyOn(design: Design, loadId: string, s: FarSurface, atMs: number): Step[] {
  const [want = 'on'] = wantsOn(s.keys, loadOf(design, loadId))
  const key = (at: number, asks: string): Step => ({
    atMs: at,
    action: { do: 'key', surfaceId: s.id, loadId, want: asks } satisfies Action,
  })
  // A finger that holds is taken away again.
  return isHeld(loadOf(design, loadId).output)
    ? [key(atMs, 'on'), key(atMs + 600, 'off')]
    : [key(atMs, want)]
}

/** Whether an expectation held in a run, and what was so. */
export function judged(design: Design, trace: Trace, e: Expectation): Held {
  const load = loadOf(design, e.loadId)
  const value = (v: string | undefined) =>
    v === undefined ? 'nothing' : valueWords(load.output, v)
  const truthAt = (t: number) => at(trace.truth[e.loadId] ?? [], t)?.value
  switch (e.kind) {
    case 'stays': {
      const changes = trace.truth[e.loadId] ?? []
      const moved = changes
        .slice(indexAt(changes, e.fromMs) + 1)
        .find((c, i) => c.t <= e.toMs && c.value !== changes[indexAt(changes, e.fromMs) + i]?.value)
      return {
        expectation: e,
        words: `${load.name} stays as it is from ${seconds(e.fromMs)} to ${seconds(e.toMs)}`,
        held: !moved,
        unsure: false,
        found: moved ? `it went ${value(moved.value)} at ${seconds(moved.t)}` : 'it did',
      }
    }
    case 'is': {
      const t = judgedAt(e)
      return {
        expectation: e,
        words: `${load.name} is ${value(e.value)} at ${seconds(t)}`,
        held: truthAt(t) === e.value,
        unsure: false,
        found: `it is ${value(truthAt(t))}`,
      }
    }
    case 'shows': {
      const t = judgedAt(e)
      const wanted = e.value === 'truth' ? truthAt(t) : e.value
      const all = farSurfaces(design).filter(
        s =>
          maybeMessage(linkOf(design, s.linkId), e.loadId)
          && (!e.surfaces.length || e.surfaces.includes(s.id)),
      )
      const others = all.flatMap(s => {
        const shown = at(trace.beliefs[s.id]?.[e.loadId] ?? [], t)?.shown ?? 'unknown'
        return shown === wanted
          ? []
          : [
              {
                wrong: differs(shown, wanted),
                words: `${s.name} shows ${differs(shown, wanted) ? value(shown) : shown.replace('stale-', 'stale: ')}`,
              },
            ]
      })
      const who = e.surfaces.length ? all.map(s => s.name).join(', ') : 'Everybody'
      return {
        expectation: e,
        words: `${who} show${e.surfaces.length > 1 ? '' : 's'} ${e.value === 'truth' ? 'the truth' : value(e.value)} for ${load.name} at ${seconds(t)}`,
        held: !others.length,
        unsure: others.length > 0 && !others.some(o => o.wrong),
        found: others.length
          ? `${others.map(o => o.words).join(', ')}; it is ${value(truthAt(t))}`
          : `${all.length === 1 ? 'it does' : 'they do'}: ${value(wanted)}`,
      }
    }
  }
}

/** Runs a drill to its end. */
export function runDrill(design: Design, drill: Drill): { bench: Bench; record: DrillRecord } {
  const bench = runScript(design, drill.script)
  const held = (drill.script.expects ?? []).map(e => judged(design, bench.trace, e))
  const load = design.loads.findIndex(l => l.id === drill.loadId)
  return {
    bench,
    record: {
      drillId: drill.id,
      title: drill.title,
      loadId: drill.loadId,
      seed: drill.script.seed,
      held,
      passed: held.every(h => h.held),
      unsure: held.some(h => h.unsure) && held.every(h => h.held || h.unsure),
      events: bench.figures.events,
      wrong: farSurfaces(design).map((s, i) => ({
        surfaceId: s.id,
        ms: bench.figures.wrongMs(i, load, bench.now),
      })),
    },
  }
}
