/**
 * An emulated board beside the bench: what happens to the controller of the bench happens to its
 * pins and its port as well, and what both do is compared.
 */
import type { LineChange } from '../bench/trace'
import { FIRST_EXPANDED } from '../boards/schema'
import { bytesText, textBytes } from '../bytes/text'
import { compileController } from '../controller/program'
import type { Raw } from '../controller/readings'
import { expandersOf } from '../design/find'
import { boardOf } from '../design/pins'
import type { Design, Expander } from '../design/schema'
import { isThermometer } from '../design/sensors/traits'
import { linesOf } from '../design/values'
import { isStepper } from '../design/outputs/traits'
import { carriedDesign, carriedLinks, type Carried } from '../sides/program/carried'
import { AvrBoard, flashOf } from './board'
import { LinePair, SaidPair, type Difference } from './compare'
import type { Does, Happens } from './happens'
import { BusPort, LineThermometer, repeatKey, sendKey, ShiftRegisters } from './parts'
import { sense } from './sensing'

/** Lines are looked at so often, ms; the board itself reads its pins as often. */
const STEP_MS = 1
/** After a start a board has driven its pins within this, ms. */
const STARTS_MS = 40
/** How far both may lie apart, ms: memory that is written, a signature that is reckoned. */
const APART_MS = 400
/** How much more where sensors are read: digital thermometers each 1.6 s, others each 0.25. */
const SENSES_MS = { slow: 2000, fast: 600 }
/** What a line that dims or steps passes through on its way is not compared, ms. */
const PASSING_MS = 300
/** Text that comes without a gap is one, ms. */
const GAP_MS = 30
/** Bytes on ordinary pins: start, eight bits, stop. */
const BITS = 10

export interface SaidText {
  t: number
  linkId: string
  text: string
}

/** A line of a load. */
interface Line {
  pin: number
  load: number
  line: number
  dims: boolean
  steps: boolean
}

/** Whether a pin is one of an expander. */
const isOn = ({ firstPin, pins }: Expander, pin: number) => pin >= firstPin && pin < firstPin + pins

export class BesideBoard {
  private readonly board: AvrBoard
  private readonly program
  private readonly carried: Carried[]
  private waiting: { startMs: number; it: Happens }[] = []
  private readonly lines: Line[]
  private readonly pairs: LinePair[]
  private readonly said: Map<string, SaidPair>
  private registers: { of: Expander; part: ShiftRegisters }[] = []
  private ports: { of: Expander; part: BusPort }[] = []
  private thermometers = new Map<number, LineThermometer>()
  private softSaid: number[] = []
  private readonly lineFreeMs = new Map<string, number>()
  private bootedMs = 0
  /** Time of the run up to which the board has come, ms. */
  now = 0
  /** What it said, in order. */
  readonly texts: SaidText[] = []
  readonly differences: Difference[] = []
  /** What happened that cannot be played on it, by link. */
  readonly unplayed = new Set<string>()

  /** `image`: what stands in the flash, from address 0 on. */
  constructor(
    private readonly part: Design,
    image: Uint8Array,
  ) {
    this.program = compileController(carriedDesign(part))
    this.carried = carriedLinks(part)
    const own = this.carried.find(c => c.port === 'own')
    this.board = new AvrBoard(flashOf(image), own?.link.baud ?? 9600)
    const apart = APART_MS + this.sensingMs()
    this.lines = part.loads.flatMap(({ output }, load) =>
      linesOf(output).map(({ pin, use }, line) => ({
        pin,
        load,
        line,
        dims: use.as === 'pwm',
        steps: isStepper(output) && line === 0,
      })),
    )
    this.pairs = this.lines.map(({ load, line, dims, steps }) => {
      const name = part.loads[load]?.name ?? ''
      const several = linesOf(part.loads[load]!.output).length > 1
      return new LinePair(
        load,
        several ? `${name}, line ${line + 1}` : name,
        dims || steps ? PASSING_MS : 0,
        apart,
      )
    })
    this.said = new Map(
      // The wire to a board in front is no link of the bench.
      part.links.map(link => [link.id, new SaidPair(link.id, link.name, apart)]),
    )
  }

  private sensingMs(): number {
    const { sensors } = this.part
    if (!sensors.length) return 0
    return sensors.some(isThermometer) ? SENSES_MS.slow : SENSES_MS.fast
  }

  /** What happens to the controller of the bench, in its order, and what it does. */
  feed(happens: readonly Happens[], does: readonly Does[]): void {
    for (const it of happens) this.waiting.push({ startMs: this.startOf(it), it })
    this.waiting.sort((a, b) => a.startMs - b.startMs)
    for (const it of happens)
      if (it.kind === 'powerOff') this.pairs.forEach(p => p.take('bench', it.t, null))
    for (const it of does)
      if (it.kind === 'said') this.said.get(it.linkId)?.take('bench', it.t, it.text)
      else
        this.pairs[this.lines.findIndex(l => l.load === it.load && l.line === it.line)]?.take(
          'bench',
          it.t,
          it.level,
        )
  }

  /** The changes of each line, by load and line, as in a trace. */
  changes(load: number): LineChange[][] {
    return this.pairs.filter((_, i) => this.lines[i]?.load === load).map(p => p.board)
  }

  /** The longest that a line of the board was behind the bench, ms. */
  get behindMs(): number {
    return Math.max(0, ...this.pairs.map(p => p.behindMs))
  }

  /** Bytes of memory behind the first `taken` ones that nothing has written since the start. */
  stackLeft(taken: number): number {
    return this.board.stackLeft(taken)
  }

  get running(): boolean {
    return this.board.running
  }

  /** Goes on to a time of the run, or until `enough` says so; true when it is there. */
  runTo(ms: number, enough: () => boolean = () => false): boolean {
    for (;;) {
      while (this.waiting[0] && this.waiting[0].startMs <= this.now) {
        const [next] = this.waiting.splice(0, 1)
        this.happen((next as (typeof this.waiting)[number]).it)
      }
      if (this.now >= ms) break
      const next = this.waiting[0]?.startMs ?? Infinity
      this.now = Math.min(ms, this.now + STEP_MS, Math.max(next, this.now))
      this.board.runTo(this.now)
      this.look()
      if (enough()) break
    }
    for (const pair of [...this.pairs, ...this.said.values()])
      this.differences.push(...pair.settle(this.now))
    return this.now >= ms
  }

  /** When it begins: a text is there when its last byte is, one after the other. */
  private startOf(it: Happens): number {
    const carried = it.kind === 'received' && this.carried.find(c => c.link.id === it.linkId)
    if (!carried) return it.t
    const ms = this.textMs(carried, it.text)
    const start = Math.max(this.lineFreeMs.get(carried.link.id) ?? 0, it.t - ms)
    this.lineFreeMs.set(carried.link.id, start + ms)
    return start
  }

  private textMs({ link, port }: Carried, text: string): number {
    const ms = (text.length * BITS * 1000) / link.baud
    return port === 'own' ? Math.ceil(ms) : ms
  }

  private happen(it: Happens): void {
    const { board, part } = this
    switch (it.kind) {
      case 'boot':
        return this.boot(it)
      case 'powerOff':
        board.off()
        return this.pairs.forEach(p => p.take('board', it.t, null))
      case 'pin':
        return this.setPin(this.program.inputs[it.input]?.control.pin ?? -1, it.level)
      case 'knob': {
        const { pin = -1, pinB = -1 } = this.program.knobs[it.knob]?.knob ?? {}
        this.setPin(pin, it.a)
        return this.setPin(pinB, it.b)
      }
      case 'infrared': {
        const sensor = part.sensors[it.sensor]
        if (!sensor || !('pin' in sensor) || !board.running) return
        return it.repeat
          ? repeatKey(board, sensor.pin)
          : sendKey(board, sensor.pin, it.address, it.command)
      }
      case 'received':
        return this.hear(it.linkId, it.text)
      case 'link':
        return this.connect(it.linkId, it.up)
      case 'sample':
        return this.give(it.sensor, it.raw)
    }
  }

  private connect(linkId: string, up: boolean): void {
    const link = this.carried.find(c => c.link.id === linkId)?.link
    if (link && 'statusPin' in link && link.statusPin !== null)
      this.setPin(link.statusPin, up ? 1 : 0)
  }

  private give(nth: number, raw: Raw): void {
    const { board, part } = this
    const sensor = part.sensors[nth]
    if (!sensor || !board.running) return
    sense(sensor, raw, {
      board,
      supplyVolts: boardOf(part).logicVolts,
      setPin: (pin, level) => this.setPin(pin, level),
      thermometer: pin => this.thermometers.get(pin),
    })
  }

  private boot({ t, levels }: Extract<Happens, { kind: 'boot' }>): void {
    const { board, part } = this
    this.program.inputs.forEach(({ control }, i) => this.setPin(control.pin, levels[i] ?? 1))
    board.boot(t)
    this.bootedMs = t
    // Parts are wired to a chip that runs; what was on their pins stays.
    const pulled = new Map(this.ports.map(({ of, part: { pulledDown } }) => [of.id, pulledDown]))
    this.registers = []
    this.ports = []
    for (const of of expandersOf(part))
      if ('latchPin' in of) this.registers.push({ of, part: new ShiftRegisters(board, of) })
      else {
        const port = new BusPort(board, of.dataPin, of.clockPin, of.address)
        port.pulledDown = pulled.get(of.id) ?? 0
        this.ports.push({ of, part: port })
      }
    this.thermometers = new Map(
      part.sensors.flatMap(s =>
        isThermometer(s) ? [[s.pin, new LineThermometer(board, s.pin)] as const] : [],
      ),
    )
    const soft = this.carried.find(c => c.port === 'soft')?.link
    this.softSaid = soft && 'sendPin' in soft ? board.listenBits(soft.sendPin, soft.baud) : []
  }

  private hear(linkId: string, text: string): void {
    const carried = this.carried.find(c => c.link.id === linkId)
    if (!carried) {
      this.unplayed.add(linkId)
      return
    }
    const { link, port } = carried
    const bytes = textBytes(text)
    const end = this.now + this.textMs(carried, text)
    if (port === 'own') this.board.hear(bytes, end)
    else if ('receivePin' in link) this.board.hearBits(link.receivePin, bytes, link.baud)
  }

  private setPin(pin: number, level: 0 | 1): void {
    const port = this.ports.find(p => isOn(p.of, pin))
    if (port) {
      const bit = 1 << (pin - port.of.firstPin)
      port.part.pulledDown = level ? port.part.pulledDown & ~bit : port.part.pulledDown | bit
    } else if (pin >= 0 && pin < FIRST_EXPANDED) this.board.setPin(pin, level)
  }

  private level({ pin, dims, steps }: Line): number {
    if (steps) return this.board.stepHz
    const register = this.registers.find(r => isOn(r.of, pin))
    if (register) return register.part.level(pin - register.of.firstPin) ?? 0
    const port = this.ports.find(p => isOn(p.of, pin))
    if (port) return (port.part.written >> (pin - port.of.firstPin)) & 1
    return this.board.level(pin, dims)
  }

  private look(): void {
    const { board, now } = this
    if (!board.running) return
    if (now >= this.bootedMs + STARTS_MS)
      this.lines.forEach((line, i) => this.pairs[i]?.take('board', now, this.level(line)))
    for (const { link, port } of this.carried) {
      const bytes = port === 'own' ? board.sent : this.softSaid
      if (bytes.length) this.tell(link.id, bytesText(Uint8Array.from(bytes.splice(0))))
    }
  }

  private tell(linkId: string, text: string): void {
    const { now, texts } = this
    this.said.get(linkId)?.take('board', now, text)
    const last = texts.findLast(x => x.linkId === linkId)
    if (last && now - last.t - this.msOf(last) < GAP_MS) last.text += text
    else texts.push({ t: now, linkId, text })
  }

  private msOf({ linkId, text }: SaidText): number {
    const carried = this.carried.find(c => c.link.id === linkId)
    return carried ? this.textMs(carried, text) : 0
  }
}
