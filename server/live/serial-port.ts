/**
 * The serial links of a stand-in as ports that other programs open: a TCP port for each, and a
 * pseudo terminal where `socat` is installed. What Bluetooth or a wire carry on a bench comes and
 * goes here, byte for byte; one at a time, as on a real port.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
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
let known: boolean | null = null

/** Whether pseudo terminals can be made here. */
function hasSocat(): boolean {
  return (known ??= spawnSync('socat', ['-V'], { stdio: 'ignore' }).status === 0)
}

export class SerialPort {
  private client: Socket | null = null
  private terminal: ChildProcess | null = null
  private closed = false

  private constructor(
    private readonly server: Server,
    /** Where the pseudo terminal is; null where there is none. */
    readonly path: string | null,
  ) {}

  /** `name`: of the terminal, made of slugs. */
  static async open(host: string, name: string, events: SerialEvents): Promise<SerialPort> {
    const server = createServer()
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject)
      server.listen(0, host, () => {
        server.off('error', reject)
        resolve()
      })
    })
    // A terminal is for programs of this machine.
    const local = host === '127.0.0.1' && hasSocat()
    const port = new SerialPort(server, local ? join(tmpdir(), `nolvi-${name}`) : null)
    server.on('connection', socket => port.taken(socket, events))
    port.offer()
    return port
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port
  }

  /** Whether somebody holds it. */
  get held(): boolean {
    return this.client !== null
  }

  private taken(socket: Socket, events: SerialEvents): void {
    socket.on('error', () => undefined)
    if (this.client || !events.knows(socket.remoteAddress ?? '')) return void socket.destroy()
    this.client = socket
    socket.setNoDelay(true)
    socket.on('data', bytes => events.heard(bytesText(bytes)))
    socket.on('close', () => {
      this.client = null
      if (!this.closed) events.goes()
    })
    events.comes()
  }

  /** A terminal that connects when somebody opens it, and is offered anew when he lets go. */
  private offer(): void {
    if (this.path === null || this.closed) return
    const terminal = spawn(
      'socat',
      [`PTY,link=${this.path},raw,echo=0,wait-slave`, `TCP:127.0.0.1:${this.port}`],
      { stdio: 'ignore' },
    )
    terminal.on('error', () => undefined)
    terminal.on('exit', () => {
      if (!this.closed) setTimeout(() => this.offer(), AGAIN_MS).unref()
    })
    this.terminal = terminal
  }

  send(text: string): void {
    this.client?.write(textBytes(text))
  }

  /** The link falls, as Bluetooth does with the power of its board. */
  drop(): void {
    this.client?.destroy()
  }

  close(): void {
    this.closed = true
    this.terminal?.kill()
    this.client?.destroy()
    this.server.close()
  }
}
