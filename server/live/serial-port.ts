/**
 * The serial links of a stand-in as ports that other programs open: a TCP port for each, and a
 * pseudo terminal where `socat` is installed. What Bluetooth or a wire carry on a bench comes and
 * goes here, byte for byte; one at a time, as on a real port. Sessions of a console over a shell
 * are such ports too, several at once where the link says so.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { lstatSync } from 'node:fs'
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { bytesText, textBytes } from '../../core/bytes/text'

/** What a port tells its stand-in. */
export interface SerialEvents {
  /** Whose connections are taken, by address. */
  knows(address: string): boolean
  comes(): void
  goes(): void
  heard(text: string): void
}

/** A terminal that was let go is there again after this, ms. */
const AGAIN_MS = 200
/** One that ends sooner than this cannot be made, ms; after so many in a row nobody tries again. */
const SOON_MS = 1000
const MOST_TRIES = 3
let known: boolean | null = null

/** The same name from one evening to the next, but where another server has it already. */
function freePath(name: string): string {
  const path = join(tmpdir(), name)
  return lstatSync(path, { throwIfNoEntry: false }) ? `${path}-${process.pid}` : path
}

/** Whether pseudo terminals can be made here. */
function hasSocat(): boolean {
  return (known ??= spawnSync('socat', ['-V'], { stdio: 'ignore' }).status === 0)
}

export class SerialPort {
  private readonly clients = new Set<Socket>()
  private terminal: ChildProcess | null = null
  /** How often a terminal was made. */
  offers = 0
  private closed = false
  private tries = 0

  private constructor(
    private readonly server: Server,
    /** Where the pseudo terminal is; null where there is none. */
    readonly path: string | null,
    private readonly most: number,
  ) {}

  /** `name`: of the terminal, made of slugs. `most`: connections at once. */
  static async open(
    host: string,
    name: string,
    events: SerialEvents,
    most = 1,
  ): Promise<SerialPort> {
    const server = createServer()
    server.listen(0, host)
    await once(server, 'listening')
    // A terminal is for programs of this machine.
    const local = host === '127.0.0.1' && hasSocat()
    const port = new SerialPort(server, local ? freePath(`nolvi-${name}`) : null, most)
    server.on('connection', socket => port.taken(socket, events))
    port.offer()
    return port
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port
  }

  /** Whether somebody holds it. */
  get held(): boolean {
    return this.clients.size > 0
  }

  private taken(socket: Socket, events: SerialEvents): void {
    socket.on('error', () => undefined)
    if (this.clients.size >= this.most || !events.knows(socket.remoteAddress ?? ''))
      return void socket.destroy()
    this.clients.add(socket)
    // It could be made, however soon it is let go again.
    this.tries = 0
    socket.setNoDelay(true)
    socket.on('data', bytes => events.heard(bytesText(bytes)))
    socket.on('close', () => {
      this.clients.delete(socket)
      if (!this.closed) events.goes()
    })
    events.comes()
  }

  /** A terminal that connects when somebody opens it, and is offered anew when he lets go. */
  private offer(): void {
    if (this.path === null || this.closed || this.tries >= MOST_TRIES) return
    const began = performance.now()
    const terminal = spawn(
      'socat',
      [`PTY,link=${this.path},raw,echo=0,wait-slave`, `TCP:127.0.0.1:${this.port}`],
      { stdio: 'ignore' },
    )
    terminal.on('error', () => undefined)
    terminal.on('exit', () => {
      this.tries = performance.now() - began < SOON_MS ? this.tries + 1 : 0
      if (!this.closed) setTimeout(() => this.offer(), AGAIN_MS).unref()
    })
    this.terminal = terminal
    this.offers++
  }

  send(text: string): void {
    for (const client of this.clients) client.write(textBytes(text))
  }

  /** The link falls, as Bluetooth does with the power of its board. */
  drop(): void {
    for (const client of this.clients) client.destroy()
  }

  close(): void {
    this.closed = true
    this.terminal?.kill()
    for (const client of this.clients) client.destroy()
    this.server.close()
  }
}
