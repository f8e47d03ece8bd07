/**
 * Messages on their way: latency, order on a stream, loss, doubles, echoes, and what a stranger
 * records of them.
 */
import type { Program } from '../controller/program'
import type { Design } from '../design/schema'
import { bodyIn, shownWire } from '../design/wire'
import { latencyMs, wireMs } from '../links/timing'
import { readingIn } from '../messages/readings'
import type { Via } from '../surfaces/surface'
import { RANK } from './actions'
import type { Figures, Press } from './figures'
import type { Dir, LinkUnit } from './link-unit'
import type { Recorder } from './recorder'
import type { BenchScript } from './script'
import type { Moments } from './schedule'
import { setpointIn } from '../messages/setpoints'

/** When a message arrives, ms: several times where it comes more than once, or never. */
export type Fate = NonNullable<BenchScript['fates']>[string]
/** `key`: "link up 3", counted from 0. undefined: as the link draws it. */
export type FateOf = (key: string, dir: Dir, text: string, now: number) => Fate | undefined

/** Commands that a stranger remembers. */
const MOST_RECORDED = 100
/** Texts of a link whose meaning is remembered. */
const MOST_TOLD = 500

/**
 * A message that is sent. `load`: what a command is about, -1 = not one load. `press`: what it came
 * of. `status`: of an answer over HTTP.
 */
export interface Sent {
  dir: Dir
  text: string
  via: Via
  press: Press | null
  load: number
  status?: number
}

/** What a wire needs of the bench. */
export interface Around extends Moments {
  /** Plans that a message arrives. */
  arrives(unit: LinkUnit, sent: Sent, t: number): void
  /** It does. */
  arrive(unit: LinkUnit, dir: Dir, text: string, via: Via): void
}

export class Wire {
  /** `recorder` null: nothing is written down, and no message put into words. */
  constructor(
    private readonly design: Design,
    private readonly program: Program,
    private readonly figures: Figures,
    private readonly recorder: Recorder | null,
    private readonly fateOf: FateOf | null,
    private readonly around: Around,
  ) {}

  /** Time of a text on the wire of a link, ms. */
  timeOf(unit: LinkUnit, text: string): number {
    return (unit.wire[text.length] ??= wireMs(this.design, unit.link, text))
  }

  transmit(unit: LinkUnit, sent: Sent): void {
    const { dir, text, press } = sent
    const way = unit.ways[dir]
    const { lost, arrival, more } = this.fate(unit, sent)
    if (!lost) way.lastArrival = arrival
    if (unit.echoes && unit.up) this.echo(unit, dir, text)
    if (dir === 'up') this.overhear(unit, text)
    const traffic = this.figures.traffic[unit.index]![dir]
    traffic.messages++
    traffic.bytes += text.length
    if (press) press.onWay++
    this.write(unit, sent, arrival, lost)
    if (lost) {
      traffic.lost++
      if (press && unit.panel) this.figures.copyLost(unit.panel.at, press)
      return
    }
    this.travel(unit, sent, arrival)
    if (!unit.datagrams) return
    if (unit.doubleNext > 0) {
      unit.doubleNext--
      more.push(arrival + Math.max(1, latencyMs(unit.link.timing, unit.random.next())))
    }
    for (const again of more) {
      traffic.messages++
      if (press) press.onWay++
      this.write(unit, sent, again, false)
      this.travel(unit, sent, again)
    }
  }

  /**
   * Somebody who recorded a command sends it again; `back`: how many before the last. The panel
   * knows nothing of it.
   */
  replay(unit: LinkUnit, back: number): void {
    const text = unit.recorded.at(-1 - back)
    if (text === undefined) return
    this.transmit(unit, { dir: 'up', text, via: 'command', press: null, load: -1 })
    // What a stranger sends is no news to one who records.
    unit.recorded.pop()
  }

  /** What was under way on a link when it went down arrives nowhere. */
  lose(unit: LinkUnit): void {
    for (const dir of ['up', 'down'] as const) {
      this.figures.traffic[unit.index]![dir].lost += unit.ways[dir].onWay
      unit.ways[dir].onWay = 0
    }
  }

  /** Whether a message is lost, when it arrives, and when it does so again. */
  private fate(
    unit: LinkUnit,
    { dir, text }: Sent,
  ): { lost: boolean; arrival: number; more: number[] } {
    const { timing, id } = unit.link
    const way = unit.ways[dir]
    const now = this.around.now()
    const fate = this.fateOf?.(`${id} ${dir} ${way.sent}`, dir, text, now)
    way.sent++
    const natural = now + this.timeOf(unit, text) + latencyMs(timing, unit.random.next())
    const lossDraw = unit.random.next() * 1000 < timing.lossPerMille
    const forced = unit.loseNext > 0
    if (forced) unit.loseNext--
    const lost = !unit.up || forced || fate === 'lost' || (fate === undefined && lossDraw)
    const [first, ...more] = fate === undefined || fate === 'lost' ? [] : [fate].flat()
    const wanted = first === undefined ? natural : Math.max(first, now)
    // Datagrams may overtake one another, a stream keeps its order.
    const arrival = unit.datagrams ? wanted : Math.max(wanted, way.lastArrival)
    return { lost, arrival, more }
  }

  private travel(unit: LinkUnit, sent: Sent, arrival: number): void {
    unit.ways[sent.dir].onWay++
    this.around.arrives(unit, sent, arrival)
  }

  /** Questions and marks of a start are no commands. */
  private overhear(unit: LinkUnit, text: string): void {
    const program = unit.panel?.machine.program
    if (!program || text === program.ask || text === program.started) return
    unit.recorded.push(text)
    if (unit.recorded.length > MOST_RECORDED) unit.recorded.shift()
  }

  /**
   * What is sent comes back to its sender, after the time that it takes on the wire and in its
   * order.
   */
  private echo(unit: LinkUnit, dir: Dir, text: string): void {
    const { epoch } = unit
    const way = unit.ways[dir]
    const took = Math.max(1, this.timeOf(unit, text))
    way.lastEcho = Math.max(way.lastEcho, this.around.now() + took)
    this.around.at(way.lastEcho, RANK.received, () => {
      if (epoch === unit.epoch && unit.up)
        this.around.arrive(unit, dir === 'up' ? 'down' : 'up', text, 'stream')
    })
  }

  private write(
    unit: LinkUnit,
    { dir, text, load, status }: Sent,
    endMs: number,
    lost: boolean,
  ): void {
    // Putting a message into words costs more than sending it.
    if (!this.recorder) return
    const told = dir === 'up' ? this.commandWords(unit, text, load) : this.reportWords(unit, text)
    this.recorder.message({
      linkId: unit.link.id,
      surfaceId: unit.panel?.machine.program.panel.id ?? '',
      dir,
      sentMs: this.around.now(),
      endMs,
      lost,
      text,
      shown: told.shown,
      loadIds: told.loadIds,
      ...(status === undefined ? {} : { status }),
    })
  }

  private commandWords(unit: LinkUnit, text: string, load: number) {
    return {
      shown: shownWire(unit.link, text),
      loadIds: load < 0 ? this.loadsOf(unit) : [this.design.loads[load]?.id ?? ''],
    }
  }

  /** How a report is shown, and the loads it speaks of; a whole state speaks of all of its link. */
  private reportWords(unit: LinkUnit, text: string): { shown: string; loadIds: readonly string[] } {
    let told = unit.told.get(text)
    if (told) return told
    const body = bodyIn(unit.link, text)
    const spoken = unit.panel?.machine.program
    const report =
      spoken?.meanings.get(body)
      ?? (spoken && setpointIn(spoken.numbers, unit.link, body, 'report'))
    const reading = !report && unit.link.readings.length > 0 && readingIn(unit.link, body) !== null
    const about = report ? [this.design.loads[report.load]?.id ?? ''] : this.loadsOf(unit)
    told = { shown: shownWire(unit.link, text), loadIds: reading ? [] : about }
    if (unit.told.size > MOST_TOLD) unit.told.clear()
    unit.told.set(text, told)
    return told
  }

  private loadsOf(unit: LinkUnit): string[] {
    return this.design.loads
      .filter((_, i) => this.program.links[unit.index]?.messages[i])
      .map(l => l.id)
  }
}
