/**
 * A stand-in controller: the real `step` behind a real HTTP port, with the design's own routes.
 * Serial links are offered as a byte stream, so that a built phone page can be used too. Wall
 * controls and lamps have a page of their own.
 */
import { createHash, randomUUID } from 'node:crypto'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { compileController, type Program, type ProgramLink } from '../../core/controller/program'
import { heardIn, meaningOf, understood } from '../../core/messages/meaning'
import {
  nextDue,
  startController,
  step,
  type ControllerEvent,
  type ControllerState,
  type Effect,
  type Level,
} from '../../core/controller/step'
import { askedOf, isStream, type Asked } from '../../core/controller/asked'
import { readingText, restingRaw, type Raw } from '../../core/controller/readings'
import { ALIVE_EVENT, aliveMs } from '../../core/design/links/alive'
import type { Design, HttpLink } from '../../core/design/schema'
import { routeWith } from '../../core/design/links/bodies'
import { ANSWER_TYPES } from '../../core/messages/answers'
import { mediumOf } from '../../core/design/links/media'
import type { ReplayWindow } from '../../core/messages/sealing'
import { shortened } from '../../core/messages/routes'
import { boardPage } from '../../core/sides/board-page'
import { Guesses } from '../guard/guesses'
import type { CounterStore } from './counters'
import { WallBox } from './box'
import { DatagramPort } from './datagrams'
import { SerialPort } from './serial-port'
import { Front, MAX_CLIENTS, OPEN, type Gate, type StandInInfo, type WallDeed } from './front'
import { bodyOf, open, openEvents, page, push, readJson, redirect, text } from './replies'
import { isRaw, isTurn, keyOf, pressed, turned } from './wall-deeds'
import { wallState, type WallState } from './wall-page'
import {
  hasSpeed,
  isShell,
  isBluetooth,
  isUdp,
  speaksRoutes,
  takesOnce,
} from '../../core/design/links/traits'

export class StandIn extends Front {
  private readonly program: Program
  private state: ControllerState
  private readonly levers: Level[]
  /** What each sensor gives. */
  private readonly world: Raw[]
  /** Lines of each knob, `a` first. */
  private readonly knobLines: number[]
  /** Open streams by link index. */
  private readonly streams: Set<ServerResponse>[]
  private timer: NodeJS.Timeout | undefined
  /** By link index. */
  private readonly datagrams = new Map<number, DatagramPort>()
  private readonly serials = new Map<number, SerialPort>()
  /** The time of day at its start, s since 1970. */
  private readonly epochS: number
  /** Boxes that are boards of the design, on the wall beside it. */
  private readonly boxes: readonly WallBox[]
  /** Wrong proofs by address: a PIN of four digits would be found in seconds. */
  private readonly guesses = new Guesses()
  /**
   * `secrets` by link; practice secrets stand for those not given. `counters`: where the counters
   * of signed commands are kept, as in the memory of a board; without it they begin anew.
   */
  constructor(
    id: string,
    design: Design,
    revision: number,
    secrets: Readonly<Record<string, string>> = {},
    private readonly counters: CounterStore | null = null,
    gate: Gate = OPEN,
  ) {
    super(id, design, revision, secrets, gate)
    this.epochS = Math.floor(Date.now() / 1000)
    this.program = compileController(design, secrets, this.epochS, randomUUID())
    const resting = startController(this.program)
    this.state = {
      ...resting,
      links: resting.links.map((l, i) => ({
        ...l,
        window: counters?.read(this.counterKey(i)) ?? l.window,
      })),
    }
    this.levers = this.program.inputs.map(() => 1)
    this.world = design.sensors.map(restingRaw)
    this.knobLines = this.program.knobs.map(() => 3)
    this.streams = this.program.links.map(() => new Set())
    this.boxes = WallBox.allOf(design, id => this.secretOf(id), this.epochS, {
      now: () => this.now(),
      says: (box, said, about) => this.boxSays(box, said, about),
      changed: () => this.tellWall(),
    })
    for (const box of this.boxes) box.start()
    this.boot()
    this.program.links.forEach((link, index) => {
      if (speaksRoutes(link.link) && !link.streams)
        this.handle({ kind: 'linkUp', now: this.now(), link: index })
    })
  }

  private boot(): void {
    this.handle({ kind: 'boot', now: this.now(), levels: this.levers })
    this.handle({ kind: 'network', now: this.now(), up: true })
    this.world.forEach((raw, sensor) =>
      this.handle({ kind: 'sample', now: this.now(), sensor, raw }),
    )
    for (const box of this.boxes) {
      const link = this.program.linkIndex.get(box.linkId)
      // Over HTTP a connection is an event stream of a page.
      if (link !== undefined && !this.program.links[link]?.streams)
        this.handle({ kind: 'linkUp', now: this.now(), link })
      box.link(true)
    }
  }

  /** A message of a box arrives; what answers it goes to that box, reports go to all. */
  private boxSays(box: WallBox, said: string, about: number): void {
    const link = this.program.linkIndex.get(box.linkId)
    if (link === undefined) return
    this.says(link, 'up', said)
    for (const e of this.handle({ kind: 'received', now: this.now(), link, text: said }))
      if (e.kind === 'reply') {
        this.says(link, 'down', e.text)
        box.hears(e.text, e.to, about)
      }
  }

  protected async opens(host: string): Promise<void> {
    await this.openDatagrams(host)
    await this.openSerials(host)
  }

  private async openDatagrams(host: string): Promise<void> {
    for (const [index, { link }] of this.program.links.entries()) {
      if (!isUdp(link)) continue
      this.datagrams.set(
        index,
        await DatagramPort.open(
          host,
          link.port,
          link.toAll,
          address => this.gate.knows(address),
          text => {
            this.says(index, 'up', text)
            const known = this.understands(index, text)
            this.handle({ kind: 'received', now: this.now(), link: index, text })
            return known && this.state.running
          },
        ),
      )
    }
  }

  private async openSerials(host: string): Promise<void> {
    for (const [link, { link: of }] of this.program.links.entries()) {
      if (!hasSpeed(of) && !isBluetooth(of) && !isShell(of)) continue
      const events = {
        knows: (address: string) => this.gate.knows(address),
        comes: () => this.handle({ kind: 'linkUp', now: this.now(), link }),
        goes: () => this.goesDown(link),
        heard: (said: string) => {
          this.says(link, 'up', said)
          this.handle({ kind: 'received', now: this.now(), link, text: said })
        },
      }
      const most = isShell(of) ? of.clients : 1
      this.serials.set(link, await SerialPort.open(host, `${this.id}-${of.id}`, events, most))
    }
  }

  /** The last one lets go of a link. */
  private goesDown(link: number): void {
    if (this.streams[link]?.size || this.serials.get(link)?.held) return
    this.handle({ kind: 'linkDown', now: this.now(), link })
  }

  /** Whether a datagram means something, judged before it acts: a signed one is taken once only. */
  private understands(index: number, text: string): boolean {
    const link = this.program.links[index] as Program['links'][number]
    const { window, handed } = this.state.links[index] ?? {}
    return (
      window !== undefined
      && heardIn(link, text).heard.some(
        h =>
          understood(
            link,
            window,
            h.kind === 'code' ? h.code : h.bytes,
            this.epochS + Math.floor(this.now() / 1000),
            handed?.number,
          ).kind === 'meant',
      )
    )
  }

  override async close(): Promise<void> {
    clearTimeout(this.timer)
    for (const box of this.boxes) box.close()
    for (const port of this.datagrams.values()) port.close()
    for (const port of this.serials.values()) port.close()
    await super.close()
  }

  info(): StandInInfo {
    return {
      ...this.about(),
      clients: this.streams.reduce((n, s) => n + s.size, 0),
      datagramPorts: Object.fromEntries(
        [...this.datagrams].map(([index, port]) => [
          this.program.links[index]?.link.id ?? '',
          port.port,
        ]),
      ),
      serialPorts: Object.fromEntries(
        [...this.serials].map(([link, { port, path }]) => [
          this.program.links[link]?.link.id ?? '',
          { port, path },
        ]),
      ),
      values: Object.fromEntries(
        this.design.loads.map((l, i) => [l.id, this.state.value[i] as string]),
      ),
      runs: 'stand-in',
      phase: 'running',
      words: '',
    }
  }

  /** One event through the step; sends go to all open streams of their link, or to `only`. */
  private handle(event: ControllerEvent, only?: ServerResponse): Effect[] {
    const before = this.state.value.join()
    const windows = this.state.links.map(l => l.window)
    const { state, effects } = step(this.program, this.state, event)
    this.state = state
    for (const effect of effects)
      if (effect.kind === 'send') this.send(effect.link, effect.text, only)
    const lit = effects.some(e => e.kind === 'lamp')
    if (lit || state.value.join() !== before) this.tellWall()
    this.keepCounters(windows)
    // Here memory is written, and messages leave, at once.
    if (effects.some(e => e.kind === 'save')) this.handle({ kind: 'memoryDone', now: this.now() })
    for (const [link, { busy }] of this.state.links.entries())
      if (busy) this.handle({ kind: 'sent', now: this.now(), link })
    this.arm()
    return effects
  }

  /** Another key is another story: its counters begin anew. */
  private counterKey(index: number): string {
    const { link, secret } = this.program.links[index] as Program['links'][number]
    return `${this.design.id} ${link.id} ${createHash('sha256').update(secret).digest('hex').slice(0, 16)}`
  }

  private keepCounters(before: readonly ReplayWindow[]): void {
    if (!this.counters) return
    for (const [i, { window }] of this.state.links.entries())
      if (window !== before[i] && takesOnce(this.program.links[i]?.link.auth ?? { kind: 'none' }))
        this.counters.write(this.counterKey(i), window)
  }

  private arm(): void {
    clearTimeout(this.timer)
    const due = nextDue(this.state)
    if (due === null) return
    this.timer = setTimeout(
      () => this.handle({ kind: 'tick', now: this.now() }),
      Math.max(0, (due - this.now()) | 0),
    )
  }

  private send(link: number, text: string, only?: ServerResponse): void {
    this.says(link, 'down', text)
    this.datagrams.get(link)?.send(text)
    this.serials.get(link)?.send(text)
    const { id } = (this.program.links[link] as Program['links'][number]).link
    for (const box of this.boxes) if (box.linkId === id) box.hears(text, 'stream')
    const wrapped = speaksRoutes(this.program.links[link]?.link) ? text : JSON.stringify(text)
    const data =
      wrapped
        .split('\n')
        .map(line => `data: ${line}\n`)
        .join('') + '\n'
    for (const client of only ? [only] : (this.streams[link] ?? [])) push(client, data)
  }

  private says(link: number, dir: 'up' | 'down', said: string): void {
    this.note(this.program.links[link]?.link.id ?? '', dir, said)
  }

  protected async other(
    path: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    if (path.startsWith('/_wire/')) return this.wire(path.slice(7), request, response)
    const shown = this.program.links.find(
      l => speaksRoutes(l.link) && l.link.page?.route === path,
    )?.link
    if (speaksRoutes(shown) && request.method === 'GET') return this.boardPage(shown, response)
    const body = await bodyOf(request)
    const target = shortened(request.url ?? '/')
    const asked = body === null ? target : routeWith(target, ...body)
    if (asked === null) return text(response, 400, 'a body is a form or a JSON object\n')
    const known = askedOf(this.program.links, asked)
    if (known) return this.designed(known, request, response)
    if (path === '/') return redirect(response, '/_wall')
    // A page from elsewhere has to be able to read that there is no such route, or it takes the
    // board for gone.
    open(response)
    if (request.method === 'OPTIONS') return void response.writeHead(204).end()
    text(response, 404, 'no such route\n')
  }

  /**
   * The design's own routes, open to pages from a file or from another address, as on a real board.
   */
  private designed(
    { link: index, route, text: asked }: Asked,
    request: IncomingMessage,
    response: ServerResponse,
  ): void {
    open(response)
    if (request.method === 'OPTIONS') return void response.writeHead(204).end()
    if (request.method !== 'GET' && request.method !== 'POST')
      return text(response, 405, 'GET or POST\n')
    const { link } = this.program.links[index] as Program['links'][number]
    const commands = meaningOf(this.program.links[index] as Program['links'][number], route)?.kind
    if (
      speaksRoutes(link)
      && link.method === 'post'
      && (commands === 'set' || commands === 'scene')
      && request.method !== 'POST'
    )
      return text(response, 405, 'commands are asked for by POST\n')
    if (isStream(this.program.links[index] as ProgramLink, route))
      return this.openStream(index, response)
    const from = request.socket.remoteAddress ?? ''
    const wait = link.auth.kind === 'none' ? 0 : this.guesses.waitMs(from)
    if (wait > 0) {
      response.setHeader('retry-after', Math.ceil(wait / 1000))
      return text(response, 429, 'too many wrong proofs\n')
    }
    this.says(index, 'up', asked)
    const reply = this.handle({ kind: 'received', now: this.now(), link: index, text: asked }).find(
      e => e.kind === 'reply',
    )
    // Without power, or hung, a board says nothing: that is no fault of this server.
    if (reply?.kind !== 'reply') return text(response, 503, 'the board does not answer\n')
    if (link.auth.kind !== 'none') {
      if (reply.status === 403) this.guesses.failed(from)
      else if (reply.status === 200) this.guesses.right(from)
    }
    this.says(index, 'down', reply.text)
    // Who pressed something on the page of the board is led back to it: a page that is loaded anew
    // must not ask for it again.
    const page = speaksRoutes(link) ? link.page : null
    if (page && (commands === 'set' || commands === 'scene') && navigates(request))
      return redirect(response, page.route, 303)
    const type =
      speaksRoutes(link) && reply.status === 200 ? ANSWER_TYPES[link.answers] : 'text/plain'
    text(response, reply.status, reply.text + '\n', type)
  }

  /** The page of the board, with the state filled in. */
  private boardPage(link: HttpLink, response: ServerResponse): void {
    if (!this.state.running) return text(response, 503, 'the board does not answer\n')
    response.setHeader(
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; img-src data:; form-action 'self'; base-uri 'none'",
    )
    const sensorAt = (id: string) => this.design.sensors.findIndex(s => s.id === id)
    page(
      response,
      boardPage(this.design, link, {
        value: id => this.state.value[this.program.loadIndex.get(id) ?? -1] ?? '',
        reading: id => {
          const sensor = this.design.sensors[sensorAt(id)]
          return sensor ? readingText(sensor, this.state.samples[sensorAt(id)] ?? null) : ''
        },
      }),
    )
  }

  private openStream(index: number, response: ServerResponse): void {
    const streams = this.streams[index]
    if (!streams || streams.size >= MAX_CLIENTS) return text(response, 503, 'too many clients\n')
    openEvents(response)
    this.keepAlive(index, response)
    streams.add(response)
    response.on('close', () => {
      streams.delete(response)
      this.goesDown(index)
    })
    this.handle({ kind: 'linkUp', now: this.now(), link: index }, response)
  }

  /**
   * A sign of life so often that whoever listens can tell silence from a link that is gone; without
   * power there is none.
   */
  private keepAlive(index: number, response: ServerResponse): void {
    const beat = setInterval(
      () => {
        if (this.state.running) response.write(`event: ${ALIVE_EVENT}\ndata:\n\n`)
      },
      aliveMs((this.program.links[index] as Program['links'][number]).link),
    )
    response.on('close', () => clearInterval(beat))
  }

  private async wire(
    linkId: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    const index = this.program.linkIndex.get(linkId)
    if (index === undefined || speaksRoutes(this.program.links[index]?.link))
      return text(response, 404, 'no such serial link\n')
    if (request.method !== 'POST') return this.openStream(index, response)
    const body = (await readJson(request)) as { text?: unknown }
    if (typeof body.text !== 'string') return text(response, 400, 'text is missing\n')
    this.says(index, 'up', body.text)
    this.handle({ kind: 'received', now: this.now(), link: index, text: body.text })
    response.writeHead(204).end()
  }

  protected does(deed: WallDeed): string | null {
    const { power, detents, key, raw } = deed
    const [controlId, sensorId] = [String(deed.controlId), String(deed.sensorId)]
    if (power === 'cut') this.cutPower()
    else if (power === 'back') this.boot()
    else if (detents !== undefined)
      return this.turn(sensorId, detents) ? null : 'no such knob, or no such turn'
    else if (key !== undefined)
      return this.remote(sensorId, key, deed.repeat === true)
        ? null
        : 'no such remote, or no such key'
    else if (deed.sensorId !== undefined)
      return this.sense(sensorId, raw) ? null : 'no such sensor, or no such value'
    else if (!this.press(controlId, deed.finger)) return 'no such hand control'
    return null
  }

  protected wallNow(): WallState {
    return wallState(this.program, this.state, this.levers, this.world, this.boxes)
  }

  /** All links fall with the power; pages connect again by themselves. */
  private cutPower(): void {
    this.handle({ kind: 'powerOff', now: this.now() })
    for (const streams of this.streams) for (const client of streams) client.destroy()
    for (const port of this.datagrams.values()) port.forget()
    this.guesses.forget()
    // A wire stays where it is plugged in.
    for (const [link, port] of this.serials) {
      const of = this.program.links[link]?.link
      if (of && mediumOf(of).connects) port.drop()
    }
    for (const box of this.boxes) box.link(false)
  }

  private sense(sensorId: string, raw: unknown): boolean {
    const sensor = this.design.sensors.findIndex(s => s.id === sensorId)
    if (!isRaw(raw)) return false
    if (sensor < 0) return this.boxes.some(box => box.sense(sensorId, raw))
    this.world[sensor] = raw
    if (this.state.running) this.handle({ kind: 'sample', now: this.now(), sensor, raw })
    return true
  }

  /** A knob passes so many detents, up positive, as quadrature of its two lines. */
  private turn(sensorId: string, detents: unknown): boolean {
    const knob = this.program.knobs.findIndex(k => k.knob.id === sensorId)
    const of = this.program.knobs[knob]
    if (!isTurn(detents)) return false
    if (!of) return this.boxes.some(box => box.turn(sensorId, detents))
    const { countsPerDetent } = of.knob
    for (const lines of turned(this.knobLines[knob] as number, countsPerDetent, detents)) {
      this.knobLines[knob] = lines
      const [a, b] = [(lines >> 1) as Level, (lines & 1) as Level]
      this.handle({ kind: 'knob', now: this.now(), knob, a, b })
    }
    return true
  }

  /** A key of a remote sends one frame; `repeat`: it is held down still. */
  private remote(sensorId: string, nth: unknown, repeat: boolean): boolean {
    const sensor = this.design.sensors.findIndex(s => s.id === sensorId)
    if (sensor < 0) return this.boxes.some(box => box.remote(sensorId, nth))
    const key = keyOf(this.design.sensors[sensor], nth)
    if (!key) return false
    const { address, command } = key
    this.handle({ kind: 'infrared', now: this.now(), sensor, address, command, repeat })
    return true
  }

  private press(controlId: string, finger: unknown): boolean {
    const input = this.program.inputIndex.get(controlId)
    if (input === undefined) return this.boxes.some(box => box.press(controlId, finger))
    const latching = this.program.inputs[input]?.control.kind === 'latching'
    pressed(finger, { latching, level: this.levers[input] }, level => this.setLever(input, level))
    return true
  }

  private setLever(input: number, level: Level): void {
    this.levers[input] = level
    this.handle({ kind: 'pin', now: this.now(), input, level })
  }
}

/** A browser that opens an address, not a program that asks. */
function navigates(request: IncomingMessage): boolean {
  return (
    request.headers['sec-fetch-mode'] === 'navigate'
    || (request.headers['sec-fetch-mode'] === undefined
      && request.headers.accept?.includes('text/html') === true)
  )
}
