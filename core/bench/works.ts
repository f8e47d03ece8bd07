/** The parts of the bench, joined: whoever does something finds here whose it is. */
import { compileController, type Program } from '../controller/program'
import type { ControllerEvent, Effect } from '../controller/step'
import { farSurfaces, loadOf } from '../design/find'
import { onNetwork, throughRouter } from '../design/links/traits'
import { wholeOf } from '../design/part'
import type { Design } from '../design/schema'
import { seededRandom, streamSeed } from '../units/random'
import { RANK, type Doer } from './actions'
import { Agenda } from './agenda'
import { Board } from './board'
import { Box } from './box'
import { Connections } from './connections'
import { Ends, linksOf } from './ends'
import { Figures } from './figures'
import { Hands } from './hands'
import type { LinkUnit } from './link-unit'
import { Outputs } from './outputs'
import { SILENT, type Recorder } from './recorder'
import { followed, Surfaces } from './surfaces'
import { Wire, type FateOf } from './wire'

/** A box is back this long after it was started anew, ms. */
export const BOX_START_MS = 600

/** `recorder`: `SILENT` = nothing is put into words. */
export interface Given {
  design: Design
  seed: number
  fateOf: FateOf | null
  recorder: Recorder
  onController: ((event: ControllerEvent, effects: readonly Effect[]) => void) | null
}

const isOfNetwork = ({ lamp }: Program['lamps'][number]) => lamp.shows === 'network'

export class Works {
  readonly agenda = new Agenda()
  readonly design: Design
  readonly program: Program
  readonly figures: Figures
  readonly surfaces: Surfaces
  readonly links: readonly LinkUnit[]
  readonly board: Board
  readonly hands: Hands
  readonly boxes: readonly Box[]
  readonly connections: Connections
  readonly ends: Ends
  private readonly wire: Wire

  /** First connections happen at once. */
  constructor({ design, seed, fateOf, recorder, onController }: Given) {
    const { agenda } = this
    const { moments } = agenda
    const stream = (name: string) => seededRandom(streamSeed(seed, name))
    const surfaces = farSurfaces(design)
    const follows = followed(design)
    const program = (this.program = compileController(design))
    const figures = (this.figures = new Figures(
      surfaces.length,
      design.loads.length,
      design.links.length,
    ))
    this.design = design
    this.surfaces = new Surfaces(
      ...([design, follows, agenda, figures, recorder] as const),
      (unit, sent) => this.wire.transmit(unit, sent),
      stream,
    )
    this.links = linksOf(design, this.surfaces.list, stream)
    const outputs = new Outputs(design, figures, recorder, follows, moments, stream)
    this.board = new Board(design, program, agenda, outputs, figures, recorder, {
      levers: () => this.hands.levers.slice(),
      says: effect => this.ends.says(effect),
      hears: onController,
    })
    const contact = (controlId: string, level: 0 | 1) =>
      recorder.contact(agenda.now, controlId, level)
    this.hands = new Hands(
      design,
      program,
      { ...moments, contact, happens: event => this.board.happens(event) },
      stream,
    )
    this.wire = new Wire(design, program, figures, recorder === SILENT ? null : recorder, fateOf, {
      ...moments,
      arrives: (unit, sent, t) => agenda.arrival(unit, sent, t),
      arrive: (unit, dir, text, via) => this.ends.arrive(unit, dir, text, via),
    })
    this.connections = new Connections(design, this.links, {
      ...moments,
      runs: () => this.board.runs,
      connected: unit => this.ends.connected(unit),
      lost: unit => this.ends.lost(unit),
      noticed: unit => this.ends.noticed(unit),
    })
    const whole = wholeOf(design)
    const aroundBox = {
      ...moments,
      contact,
      clock: (due: number) => agenda.fromClock(due),
      up: (surfaceId: string) => this.surfaces.isUp(surfaceId),
      waits: (surfaceId: string) => this.surfaces.waits(surfaceId),
      lamp: (lampId: string, level: 0 | 1 | null) => recorder.lamp(agenda.now, lampId, level),
      believed: (surfaceId: string, loadId: string) =>
        this.surfaces.belief(surfaceId, this.loadIndex(loadId))?.value ?? null,
      key: (surfaceId: string, loadId: string, want: string) =>
        this.doer.key(surfaceId, loadId, want),
      scene: (surfaceId: string, sceneId: string) => this.doer.scene(surfaceId, sceneId),
    }
    this.boxes = surfaces.flatMap(({ id }) => {
      const s = whole.surfaces.find(x => x.id === id)
      return s?.kind === 'peer' && s.boardId !== null
        ? (Box.of(whole, s, aroundBox, stream) ?? [])
        : []
    })
    const { board, links, boxes, wire } = this
    if (boxes.some(b => b.hasLamps))
      this.surfaces.onHappened = (surfaceId, { kind }) =>
        boxes.find(b => b.id === surfaceId)?.looks(kind === 'received')
    this.ends = new Ends({
      ...{ program, links, agenda, board, figures, recorder, wire, boxes },
      surfaces: this.surfaces,
    })
    for (const box of boxes) box.boot()
    board.boot()
    this.joins(0)
    for (const link of links) this.connections.connect(link)
  }

  /** What the rows of `actions.ts` ask for. */
  readonly doer: Doer = {
    press: (controlId, gesture) => this.handsAt(controlId).press(controlId, gesture),
    lever: (controlId, level) => this.handsAt(controlId).lever(controlId, level),
    key: (surfaceId, loadId, want) => this.keyed(surfaceId, 'key', loadId, want),
    slide: (surfaceId, loadId, want) => this.keyed(surfaceId, 'slide', loadId, want),
    scene: (surfaceId, sceneId) => {
      const scene = this.design.scenes.findIndex(s => s.id === sceneId)
      this.surfaces.key(surfaceId, { kind: 'scene', now: this.agenda.now, scene })
    },
    sense: (sensorId, raw) => {
      const box = this.boxOf(sensorId)
      if (box) box.sense(box.sensor(sensorId), raw)
      else this.board.sense(this.sensorIndex(sensorId), raw)
    },
    turn: (sensorId, detents) => {
      const [hands, sensor] = this.handsOf(sensorId)
      hands.turn(sensor, detents)
    },
    remote: (sensorId, key, repeats) => {
      const [hands, sensor] = this.handsOf(sensorId)
      hands.remote(sensor, key, repeats)
    },
    away: (linkId, away) => this.connections.away(this.linkUnit(linkId), away),
    loseNext: linkId => void this.linkUnit(linkId).loseNext++,
    doubleNext: linkId => void this.linkUnit(linkId).doubleNext++,
    replay: (linkId, back) => this.wire.replay(this.linkUnit(linkId), back),
    stranger: (linkId, comes) => this.stranger(this.linkUnit(linkId), comes),
    restartBox: surfaceId => this.restartBox(surfaceId),
    front: down => this.connections.front(down),
    router: down => {
      this.connections.router(down)
      if (down) this.joins(0)
      else this.joins()
    },
    bounce: bounces => {
      for (const hands of [this.hands, ...this.boxes.map(b => b.hands)]) hands.bouncing = bounces
    },
    power: on => (on ? this.powerOn() : this.powerOff()),
  }

  handsAt(controlId: string): Hands {
    return this.boxes.find(b => b.has(controlId))?.hands ?? this.hands
  }

  boxOf(sensorId: string): Box | undefined {
    return this.boxes.find(b => b.sensor(sensorId) >= 0)
  }

  linkUnit(linkId: string): LinkUnit {
    const unit = this.links.find(l => l.link.id === linkId)
    if (!unit) throw new RangeError(`no link "${linkId}"`)
    return unit
  }

  sensorIndex(sensorId: string): number {
    const sensor = this.design.sensors.findIndex(s => s.id === sensorId)
    if (sensor < 0) throw new RangeError(`no sensor "${sensorId}"`)
    return sensor
  }

  loadIndex(loadId: string): number {
    return this.program.loadIndex.get(loadOf(this.design, loadId).id) as number
  }

  private keyed(surfaceId: string, kind: 'key' | 'slide', loadId: string, want: string): void {
    const load = this.loadIndex(loadId)
    this.surfaces.key(surfaceId, { kind, now: this.agenda.now, load, want })
  }

  /** Whose hands a sensor is for, and its place there. */
  private handsOf(sensorId: string): [Hands, number] {
    const box = this.boxOf(sensorId)
    return box ? [box.hands, box.sensor(sensorId)] : [this.hands, this.sensorIndex(sensorId)]
  }

  private powerOff(): void {
    this.board.cut(() => {
      for (const link of this.links) this.connections.disconnect(link)
    })
  }

  private powerOn(): void {
    this.board.start(() => {
      this.joins()
      for (const link of this.links) this.connections.reconnectSoon(link)
    })
  }

  /** Whether the board is in its network is looked at after `ms`; only a lamp shows it. */
  private joins(ms?: number): void {
    const unit = this.links.find(u => onNetwork(u.link))
    const { agenda, board, boxes, program } = this
    if (!unit || !(program.lamps.some(isOfNetwork) || boxes.some(b => b.hasLamps))) return
    const { epoch } = board
    agenda.at(agenda.now + (ms ?? unit.link.timing.reconnectMs), RANK.network, () => {
      if (epoch !== board.epoch) return
      const up = !(this.connections.routerDown && throughRouter(unit.link))
      board.happens({ kind: 'network', now: agenda.now, up })
      for (const box of boxes) box.network(up)
    })
  }

  /**
   * Somebody else connects where only one can: while our panel holds the link they are refused, and
   * it is refused while they do.
   */
  private stranger(unit: LinkUnit, comes: boolean): void {
    if (comes && unit.up) this.figures.traffic[unit.index]!.refused++
    else unit.taken = comes
    if (!unit.taken) this.connections.reconnectSoon(unit)
  }

  private restartBox(surfaceId: string): void {
    const { link } = this.surfaces.restart(surfaceId)
    const box = this.boxes.find(b => b.id === surfaceId)
    box?.off()
    if (box) this.agenda.at(this.agenda.now + BOX_START_MS, RANK.boot, () => box.boot())
    if (!link?.up) return
    this.connections.disconnect(link)
    this.connections.connectIn(link, BOX_START_MS)
  }
}
