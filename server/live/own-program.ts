/**
 * The program of a board in the place of its stand-in: made here of the files that are given away,
 * and run. Its own server answers; what comes and goes is passed on as it is, and noted. Its pins
 * are files; the wall presses them.
 */
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { request as ask, type IncomingMessage, type ServerResponse } from 'node:http'
import { connect, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { bytesText, textBytes } from '../../core/bytes/text'
import { askedOf } from '../../core/controller/asked'
import { compileController, type Program } from '../../core/controller/program'
import { restingRaw, type Raw } from '../../core/controller/readings'
import type { Level } from '../../core/controller/step'
import { lampsOf } from '../../core/design/find'
import { holdsParameters, routeWith } from '../../core/design/links/bodies'
import { hasModule, hasSpeed, isShell, isUdp } from '../../core/design/links/traits'
import type { Design, Link } from '../../core/design/schema'
import { shortened } from '../../core/messages/routes'
import { numberedValue } from '../../core/sides/program/asks'
import { portsOf } from '../../core/sides/program/carried'
import { leftOutHere, onComputer } from '../../core/sides/program/on-computer'
import { serviceFolder } from '../../core/sides/program/service'
import { WallBox } from './box'
import { BoxWires } from './box-wires'
import { DatagramRelay } from './datagram-relay'
import { Front, MAX_CLIENTS, type Gate, type StandInInfo, type WallDeed } from './front'
import type { Maker } from './maker'
import { BadBody, open, openEvents, push, readJson, text, wholeBody } from './replies'
import { RunningProgram } from './running-program'
import { SerialPort } from './serial-port'
import { isRaw, isTurn, keyOf, pressed, turned } from './wall-deeds'
import { withBoxes, worldWall, type WallState } from './wall-page'

const NAME = 'nolvi'
/** How often it is asked what its loads are. */
const LOOK_MS = 100
/** Longest answer that is noted. */
const MOST_NOTED = 2000
/** A terminal is there this soon, ms. */
const TERMINAL_MS = 3000

/** A serial link or a console: outside who speaks to it, inside the program. */
interface Line {
  link: Link
  outside: SerialPort
  /** As a terminal that the program opens; null for a console. */
  inside: SerialPort | null
  /** Which of its offers the program opened last; 0 = none. */
  opened: number
  /** To the console of the program. */
  session: Socket | null
  streams: Set<ServerResponse>
}

export class OwnProgram extends Front {
  private readonly folder = mkdtempSync(join(tmpdir(), 'nolvi-program-'))
  /** Its part on a computer. */
  private readonly here: Design
  private readonly program: Program
  private readonly stopping = new AbortController()
  private readonly lines = new Map<string, Line>()
  private readonly relays = new Map<string, DatagramRelay>()
  private readonly levers: Level[]
  private readonly world: Raw[]
  private readonly knobLines: number[]
  /** Boxes that are boards of the design, on the wall beside it. */
  private readonly boxes: readonly WallBox[]
  private readonly wires: BoxWires
  private running: RunningProgram | null = null
  private looking: NodeJS.Timeout | undefined
  private values: string[]
  private phase: StandInInfo['phase'] = 'making'
  private words: string

  constructor(
    id: string,
    part: Design,
    revision: number,
    secrets: Readonly<Record<string, string>>,
    gate: Gate,
    private readonly maker: Maker,
  ) {
    super(id, part, revision, secrets, gate)
    this.here = onComputer(part)
    this.program = compileController(part)
    this.levers = this.program.inputs.map(() => 1)
    this.world = part.sensors.map(restingRaw)
    this.knobLines = this.program.knobs.map(() => 3)
    this.values = part.loads.map(() => '')
    this.boxes = WallBox.allOf(part, id => this.secretOf(id), Math.floor(Date.now() / 1000), {
      now: () => this.now(),
      says: (box, said, about) => this.wires.say(box, said, about),
      changed: () => this.tellWall(),
    })
    this.wires = new BoxWires(part, this.boxes, {
      http: () => this.httpPort(),
      udp: linkId => this.portOf(linkId),
      line: linkId => this.lineOf(linkId),
      passed: (linkId, dir, said) => this.note(linkId, dir, said),
    })
    for (const box of this.boxes) box.start()
    const left = leftOutHere(part)
    this.words = left.length ? `Not done by it here: ${left.join('; ')}.` : ''
    mkdirSync(join(this.folder, 'pins'))
  }

  protected async opens(host: string): Promise<void> {
    for (const { link } of portsOf(this.here)) {
      if (isUdp(link)) await this.openRelay(host, link.id, link.port)
      else if (hasSpeed(link) || isShell(link)) await this.openLine(host, link)
    }
    void this.make()
  }

  /** Compiled, and started. What went wrong is told where it is looked at. */
  private async make(): Promise<void> {
    const { here, maker, stopping, folder } = this
    try {
      await maker.make(serviceFolder(here, NAME), NAME, stopping.signal, program =>
        copyFileSync(program, join(folder, 'program')),
      )
      await this.start()
    } catch (error) {
      if (!this.stopping.signal.aborted) this.ends((error as Error).message)
    }
  }

  private ends(words: string): void {
    this.running = null
    this.wires.close()
    this.phase = 'ended'
    this.words = words
    this.values = this.values.map(() => '')
    clearInterval(this.looking)
    this.tellWall()
  }

  private async start(): Promise<void> {
    const { signal } = this.stopping
    for (const line of this.lines.values()) {
      const { inside } = line
      const path = inside?.path
      if (inside && !path) throw new Error('this computer makes no terminals (socat)')
      if (!inside || !path) continue
      // One that a killed program held is not opened again.
      const isNew = () => inside.offers > line.opened && existsSync(path)
      await comesTrue(isNew, `no terminal came at ${path}`, signal)
      line.opened = inside.offers
    }
    signal.throwIfAborted()
    writeFileSync(join(this.folder, 'nolvi.conf'), this.settings())
    const running = new RunningProgram(this.folder, words => this.ends(words))
    this.running = running
    // What stood on its pins stands there before its first look.
    for (const [i, input] of this.program.inputs.entries())
      await running.told(`pin ${input.control.pin} ${this.levers[i]}`)
    for (const [i, raw] of this.world.entries()) await running.told(sampled(i, raw))
    for (const { inside } of this.lines.values())
      if (inside) await comesTrue(() => inside.held, 'it opened no terminal', signal)
    for (const line of this.lines.values()) if (this.isJoined(line)) this.joins(line)
    if (this.running !== running) return
    this.phase = 'running'
    this.wires.open()
    this.looking = setInterval(() => void this.look(), LOOK_MS).unref()
    await this.look()
  }

  private settings(): string {
    const secret = (link: Link) => `secret ${link.id} = ${this.secretOf(link.id)}`
    return [
      'control = 1',
      'address = 127.0.0.1',
      'http = 0',
      'udp = 0',
      `tree = ${join(this.folder, 'pins')}`,
      `state = ${join(this.folder, 'state')}`,
      ...this.design.links.flatMap(l => (l.auth.kind === 'none' ? [] : [secret(l)])),
      ...[...this.lines.values()].map(({ link, inside }) =>
        inside
          ? `serial ${link.id} = ${inside.path}`
          : `console ${link.id} = ${this.console(link)}`,
      ),
      '',
    ].join('\n')
  }

  private console(link: Link): string {
    return join(this.folder, link.id)
  }

  private async look(): Promise<void> {
    const numbers = await this.running?.values()
    if (!numbers || numbers.length < this.design.loads.length) return
    const values = this.design.loads.map((l, i) => numberedValue(l.output, numbers[i] as number))
    if (values.join() === this.values.join()) return
    this.values = values
    this.tellWall()
  }

  // --- What comes and goes ---

  private portOf(linkId: string): number | null {
    const ports = this.running?.ports.filter(p => p.what === 'udp') ?? []
    // It says them in the order of its links, in which they are passed on here.
    return ports[[...this.relays.keys()].indexOf(linkId)]?.port ?? null
  }

  private httpPort(): number | null {
    return this.running?.ports.find(p => p.what === 'http')?.port ?? null
  }

  private lineOf(linkId: string): { say(text: string): void } | null {
    const line = this.lines.get(linkId)
    return line ? { say: said => this.up(line, said) } : null
  }

  /** Somebody is at its far end, a box or whoever else. */
  private isJoined(line: Line): boolean {
    return isSpoken(line) || this.boxes.some(box => box.linkId === line.link.id)
  }

  private async openRelay(host: string, linkId: string, port: number): Promise<void> {
    const around = {
      knows: (address: string) => this.gate.knows(address),
      port: () => this.portOf(linkId),
      passed: (dir: 'up' | 'down', said: string) => this.note(linkId, dir, said),
    }
    this.relays.set(linkId, await DatagramRelay.open(host, port, around))
  }

  private async openLine(host: string, link: Link): Promise<void> {
    const knows = (address: string) => this.gate.knows(address)
    const line: Line = {
      link,
      outside: await SerialPort.open(host, `${this.id}-${link.id}`, {
        knows,
        comes: () => this.joins(line),
        goes: () => this.leaves(line),
        heard: said => this.up(line, said),
      }),
      inside: isShell(link)
        ? null
        : await SerialPort.open('127.0.0.1', `${this.id}-${link.id}-inside`, {
            knows: () => true,
            comes: () => undefined,
            goes: () => undefined,
            heard: said => this.down(line, said),
          }),
      opened: 0,
      session: null,
      streams: new Set(),
    }
    this.lines.set(link.id, line)
  }

  private up(line: Line, said: string): void {
    this.note(line.link.id, 'up', said)
    if (line.inside) line.inside.send(said)
    else line.session?.write(textBytes(said))
  }

  private down(line: Line, said: string): void {
    this.note(line.link.id, 'down', said)
    line.outside.send(said)
    const data = `data: ${JSON.stringify(said)}\n\n`
    for (const stream of line.streams) push(stream, data)
    this.wires.heard(line.link.id, said)
  }

  /** Somebody is at the far end: a module tells its board so by a pin, a shell joins a session. */
  private joins(line: Line): void {
    const { link } = line
    if (hasModule(link) && link.statusPin !== null)
      void this.running?.told(`pin ${link.statusPin} 1`)
    if (!isShell(link) || line.session || !this.running) return
    const session = connect(this.console(link))
    line.session = session
    session.on('error', () => undefined)
    session.on('data', bytes => this.down(line, bytesText(bytes)))
    session.on('close', () => {
      if (line.session === session) line.session = null
    })
  }

  private leaves(line: Line): void {
    const { link } = line
    if (this.isJoined(line)) return
    if (hasModule(link) && link.statusPin !== null)
      void this.running?.told(`pin ${link.statusPin} 0`)
    line.session?.destroy()
    line.session = null
  }

  protected async other(
    path: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    if (path.startsWith('/_wire/')) return this.wire(path.slice(7), request, response)
    const http = this.httpPort()
    if (http === null) {
      open(response)
      return text(response, 503, 'the board does not answer\n')
    }
    const target = request.url ?? '/'
    const body = request.method === 'POST' ? await wholeBody(request) : ''
    const linkId = this.linkAsked(request, target, body)
    if (linkId !== null) this.note(linkId, 'up', body === '' ? target : `${target} ${body}`)
    this.pass(http, linkId, body, request, response)
  }

  /** The link that a request is a message of; null where it is of none, as for a page. */
  private linkAsked(request: IncomingMessage, target: string, body: string): string | null {
    const type = request.headers['content-type']
    const asked =
      body !== '' && type !== undefined && holdsParameters(type)
        ? routeWith(shortened(target), type, body)
        : shortened(target)
    const known = asked === null ? null : askedOf(this.program.links, asked)
    return known ? (this.program.links[known.link]?.link.id ?? null) : null
  }

  private pass(
    port: number,
    linkId: string | null,
    body: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): void {
    const { method, url, headers } = request
    const host = `127.0.0.1:${port}`
    const own = headers.origin === `http://${headers.host}`
    const passed = ask({
      ...{ host: '127.0.0.1', port, method, path: url },
      headers: { ...headers, host, ...(own ? { origin: `http://${host}` } : {}) },
    })
    passed.on('error', () => {
      if (response.headersSent) response.destroy()
      else text(response, 503, 'the board does not answer\n')
    })
    passed.on('response', answer => {
      response.writeHead(answer.statusCode ?? 502, answer.headers)
      const streams = answer.headers['content-type']?.startsWith('text/event-stream') === true
      let said = ''
      answer.on('data', piece => {
        said += String(piece)
        if (streams) said = this.noteEvents(linkId, said)
      })
      answer.on('end', () => {
        if (linkId !== null && !streams) this.note(linkId, 'down', said.trim().slice(0, MOST_NOTED))
      })
      answer.on('error', () => response.destroy())
      answer.pipe(response)
    })
    response.on('close', () => passed.destroy())
    passed.end(body)
  }

  /** Notes what whole events tell; returns what is left of the last. */
  private noteEvents(linkId: string | null, said: string): string {
    const events = said.split('\n\n')
    const left = events.pop() ?? ''
    for (const event of events) {
      const lines = event.split('\n').filter(line => line.startsWith('data:'))
      const told = lines.map(line => line.slice(5).trim()).join('\n')
      if (linkId !== null && told !== '') this.note(linkId, 'down', told)
    }
    return left.slice(-MOST_NOTED)
  }

  /** A panel page that is served here speaks over a serial link by this. */
  private async wire(
    linkId: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    const line = this.lines.get(linkId)
    if (!line) return text(response, 404, 'no such serial link\n')
    if (request.method === 'POST') {
      const body = (await readJson(request)) as { text?: unknown }
      if (typeof body.text !== 'string') throw new BadBody('text is missing')
      this.up(line, body.text)
      response.writeHead(204).end()
      return
    }
    if (line.streams.size >= MAX_CLIENTS) return text(response, 503, 'too many clients\n')
    openEvents(response)
    line.streams.add(response)
    response.on('close', () => {
      line.streams.delete(response)
      this.leaves(line)
    })
    this.joins(line)
  }

  // --- Its wall ---

  protected does(deed: WallDeed): string | null {
    const { power, detents, key, raw } = deed
    const sensorId = String(deed.sensorId)
    if (power === 'cut') this.cutPower()
    else if (power === 'back') this.powerBack()
    else if (detents !== undefined) return this.turn(sensorId, detents)
    else if (key !== undefined) return this.remote(sensorId, key, deed.repeat === true)
    else if (deed.sensorId !== undefined) return this.sense(sensorId, raw)
    else return this.press(String(deed.controlId), deed.finger)
    return null
  }

  private cutPower(): void {
    if (this.phase !== 'running') return
    this.running?.kill()
    this.running = null
    this.wires.close()
    clearInterval(this.looking)
    this.values = this.values.map(() => '')
    for (const relay of this.relays.values()) relay.forget()
    for (const line of this.lines.values()) {
      line.session?.destroy()
      if (isShell(line.link) || hasModule(line.link)) line.outside.drop()
    }
  }

  private powerBack(): void {
    if (this.phase === 'running' && !this.running)
      this.start().catch(error => this.ends((error as Error).message))
  }

  private sensorAt(sensorId: string): number {
    return this.design.sensors.findIndex(s => s.id === sensorId)
  }

  private sense(sensorId: string, raw: unknown): string | null {
    const sensor = this.sensorAt(sensorId)
    if (isRaw(raw) && this.boxes.some(box => box.sense(sensorId, raw))) return null
    if (sensor < 0 || !isRaw(raw)) return 'no such sensor, or no such value'
    this.world[sensor] = raw
    void this.running?.told(sampled(sensor, raw))
    return null
  }

  private turn(sensorId: string, detents: unknown): string | null {
    const at = this.program.knobs.findIndex(k => k.knob.id === sensorId)
    const knob = this.program.knobs[at]?.knob
    if (isTurn(detents) && this.boxes.some(box => box.turn(sensorId, detents))) return null
    if (!knob || !isTurn(detents)) return 'no such knob, or no such turn'
    for (const lines of turned(this.knobLines[at] as number, knob.countsPerDetent, detents)) {
      this.knobLines[at] = lines
      void this.running?.told(`pin ${knob.pin} ${lines >> 1}`)
      void this.running?.told(`pin ${knob.pinB} ${lines & 1}`)
    }
    return null
  }

  /** A key of a remote sends one frame: what its marks come to is told, for nothing sees them. */
  private remote(sensorId: string, nth: unknown, repeat: boolean): string | null {
    if (this.boxes.some(box => box.remote(sensorId, nth))) return null
    const sensor = this.sensorAt(sensorId)
    const key = keyOf(this.design.sensors[sensor], nth)
    if (!key) return 'no such remote, or no such key'
    const { address, command } = key
    void this.running?.told(`infrared ${sensor} ${address} ${command} ${Number(repeat)}`)
    return null
  }

  private press(controlId: string, finger: unknown): string | null {
    if (this.boxes.some(box => box.press(controlId, finger))) return null
    const input = this.program.inputIndex.get(controlId)
    if (input === undefined) return 'no such hand control'
    const latching = this.program.inputs[input]?.control.kind === 'latching'
    pressed(finger, { latching, level: this.levers[input] }, level => this.setLever(input, level))
    return null
  }

  private setLever(input: number, level: Level): void {
    this.levers[input] = level
    void this.running?.told(`pin ${this.program.inputs[input]?.control.pin} ${level}`)
    this.tellWall()
  }

  protected wallNow(): WallState {
    const { running, levers, world, values } = this
    const lamp = ({ pin, activeLevel }: { pin: number; activeLevel: 'high' | 'low' }) =>
      running?.pin(pin) === (activeLevel === 'high' ? '1' : '0')
    const wall = worldWall(this.program, {
      running: running !== null && this.phase === 'running',
      values,
      levers,
      world,
      lit: lampsOf(this.design).map(lamp),
    })
    return withBoxes(wall, this.boxes)
  }

  info(): StandInInfo {
    const serial = [...this.lines].map(
      ([id, { outside }]) => [id, { port: outside.port, path: outside.path }] as const,
    )
    return {
      ...this.about(),
      clients: [...this.lines.values()].filter(isSpoken).length,
      datagramPorts: Object.fromEntries([...this.relays].map(([id, r]) => [id, r.port])),
      serialPorts: Object.fromEntries(serial),
      values: Object.fromEntries(
        this.design.loads.flatMap((l, i) => (this.values[i] ? [[l.id, this.values[i]]] : [])),
      ),
      runs: 'program',
      phase: this.phase,
      words: this.words,
    }
  }

  override async close(): Promise<void> {
    this.stopping.abort()
    clearInterval(this.looking)
    this.wires.close()
    for (const box of this.boxes) box.close()
    this.running?.kill()
    for (const relay of this.relays.values()) relay.close()
    for (const { outside, inside, session } of this.lines.values()) {
      session?.destroy()
      outside.close()
      inside?.close()
    }
    await super.close()
    rmSync(this.folder, { recursive: true, force: true })
  }
}

const isSpoken = ({ outside, streams }: Line) => outside.held || streams.size > 0

function sampled(sensor: number, raw: Raw): string {
  return `sample ${sensor} ${raw[0]} ${raw[1] ?? 0}`
}

/** Waits until something is so, as long as a terminal takes. */
async function comesTrue(so: () => boolean, or: string, signal: AbortSignal): Promise<void> {
  for (const until = performance.now() + TERMINAL_MS; !so();) {
    signal.throwIfAborted()
    if (performance.now() > until) throw new Error(or)
    await new Promise(resolve => setTimeout(resolve, 20))
  }
}
