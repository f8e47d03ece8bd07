/** All that can happen in a system, and all that can be done to its board, each with its number. */
import type { Program } from '../controller/program'
import type { Design, Link, FarSurface } from '../design/schema'
import type { End, Hand, Layout, Question } from './frame'
import type { SystemEvent } from './happenings'
import { TooLarge } from './tables/table'
import type { Act } from './tables/controller'
import type { PanelKeyAct } from './tables/surface'
import { MAX_LEVERS, MOST_EACH_WAY } from './packing'
import { isHeld } from '../design/outputs/traits'
import { holdsLoad } from '../design/targets'
import { nth } from '../units/lists'

interface Parts {
  design: Design
  surface: FarSurface | null
  link: Link | undefined
  program: Program
  keys: readonly PanelKeyAct[]
  timers: readonly { load: number; slot: number }[]
  question: Question
  datagrams: boolean
  echoes: boolean
  loses: boolean
  /** The board tells the whole state from time to time. */
  tells: boolean
  /** What other surfaces, remotes, knobs and rules can ask of the board. */
  elsewhere: readonly [SystemEvent, Act][]
}
type OfMessages = Extract<SystemEvent, { place: number }>['kind']

export class Numbering {
  readonly events: SystemEvent[] = []
  /** The first event of each kind. */
  readonly at: Partial<Record<SystemEvent['kind'], number>> = {}
  /** First what can always be done. */
  readonly acts: Act[] = [
    { do: 'powerOff' },
    { do: 'save' },
    { do: 'linkUp' },
    { do: 'linkDown' },
    { do: 'tell' },
    { do: 'sent' },
  ]
  /** The first act of each kind. */
  readonly firstActs: Pick<
    Layout,
    'off' | 'save' | 'up' | 'down' | 'tell' | 'sent' | 'least' | 'boot' | 'timer' | 'message'
  >
  readonly hands: readonly Hand[]
  readonly elsewhere: readonly { event: number; act: number }[]
  readonly ends: readonly End[]

  /** Throws `TooLarge` where more levers act on the board than the search takes. */
  constructor(private readonly parts: Parts) {
    const { design, surface, program, timers, elsewhere } = parts
    const latching = program.inputs.flatMap(({ control }, i) =>
      control.kind === 'latching' ? [i] : [],
    )
    if (latching.length > MAX_LEVERS)
      throw new TooLarge(
        `${latching.length} latching switches act on this load and its neighbours; the search takes ${MAX_LEVERS}`,
      )
    const least = this.acts.length
    for (const load of design.loads.keys()) this.act({ do: 'least', load })
    const boot = this.acts.length
    for (let levers = 0; levers < 1 << latching.length; levers++) this.act({ do: 'boot', levers })
    const timer = this.acts.length
    for (const t of timers) this.act({ do: 'timer', ...t })
    this.arrivals()
    this.hands = program.inputs.map((_, input) => this.hand(input, latching.indexOf(input)))
    this.keys()
    this.elsewhere = elsewhere.map(([e, act]) => ({ event: this.event(e), act: this.act(act) }))
    this.ends = program.ends.flatMap(({ sensor, load, direction }) =>
      [true, false].map(closed => ({
        event: this.event({ kind: 'end', load, direction, closed }),
        act: this.act({ do: 'end', sensor, load, closed }),
        load,
        sensor,
        direction,
        closed,
      })),
    )
    if (surface) this.ofLink(surface)
    for (const t of timers) this.event({ kind: 'timer', ...t })
    if (surface && parts.loses) this.eachPlace(this.places, 'loseUp', 'loseDown')
    for (const kind of ['save', 'cut', 'powerOn'] as const) this.event({ kind })
    const always = { off: 0, save: 1, up: 2, down: 3, tell: 4, sent: 5 }
    this.firstActs = { ...always, least, boot, timer, message: this.acts.length }
  }

  private event(e: SystemEvent): number {
    const n = this.events.push(e) - 1
    this.at[e.kind] ??= n
    return n
  }

  private act(act: Act): number {
    return this.acts.push(act) - 1
  }

  /** Places of a queue from which a message may come: on a stream the first alone. */
  private get places(): readonly number[] {
    return this.parts.datagrams ? ALL_PLACES : [0]
  }

  private eachPlace(places: readonly number[], ...kinds: OfMessages[]): void {
    for (const kind of kinds) for (const place of places) this.event({ kind, place })
  }

  /** First: among stories of equal length the one that reads most naturally is found first. */
  private arrivals(): void {
    const { surface, echoes, datagrams } = this.parts
    if (surface) this.eachPlace(echoes ? ALL_PLACES : this.places, 'deliverUp', 'deliverDown')
    if (datagrams) this.eachPlace(this.places, 'doubleUp', 'doubleDown')
  }

  private hand(input: number, bit: number): Hand {
    const { design, program } = this.parts
    const { control, load } = nth(program.inputs, input)
    const holds = holdsLoad(control, design.loads[load]?.output)
    const levels = () =>
      [
        this.act({ do: 'lever', input, level: 0 }),
        this.act({ do: 'lever', input, level: 1 }),
      ] as const
    const lever = holds || bit >= 0 ? levels() : null
    return {
      input,
      event: this.event({ kind: holds ? 'hold' : 'press', input }),
      press: lever ? -1 : this.act({ do: 'press', input }),
      lever,
      bit,
      holds,
      letGo: holds ? this.event({ kind: 'letGo', input }) : -1,
    }
  }

  private keys(): void {
    const { keys, question } = this.parts
    for (const key of keys)
      this.event('scene' in key ? { kind: 'scene', scene: key.scene } : { kind: 'key', ...key })
    if (question !== 'twice') return
    for (const key of keys) if (!('scene' in key)) this.event({ kind: 'watchedKey', ...key })
  }

  private ofLink({ pollMs }: FarSurface): void {
    const { design, link, question, tells } = this.parts
    for (const kind of ['drop', 'return', 'notice', 'timeout'] as const) this.event({ kind })
    if (pollMs) this.event({ kind: 'poll' })
    if (tells) this.event({ kind: 'tell' })
    if (link?.queue) this.event({ kind: 'sent' })
    if (link?.leastMs) for (const load of design.loads.keys()) this.event({ kind: 'least', load })
    if (design.loads.some(l => isHeld(l.output))) this.event({ kind: 'repeat' })
    if (question === 'restart') this.event({ kind: 'restart' })
  }
}

const ALL_PLACES = Array.from({ length: MOST_EACH_WAY }, (_, place) => place)
