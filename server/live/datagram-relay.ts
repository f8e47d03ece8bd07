/** Datagrams to and from a program that runs here: each who asks keeps a port of his own there. */
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram'
import { bytesText } from '../../core/bytes/text'

/** Who asked lately; the first of them is forgotten where there are more. */
const MOST_KNOWN = 32

/** What a relay is told, and tells. */
export interface Around {
  /** Whose datagrams are taken, by address. */
  knows(address: string): boolean
  /** The port of the program on this machine; null while it does not run. */
  port(): number | null
  passed(dir: 'up' | 'down', text: string): void
}

export class DatagramRelay {
  private readonly known = new Map<string, Socket>()

  private constructor(
    private readonly socket: Socket,
    private readonly around: Around,
  ) {
    // What went wrong with one answer is no reason to stop listening.
    socket.on('error', () => undefined)
    socket.on('message', (bytes, from) => {
      if (around.knows(from.address)) this.pass(bytes, from)
    })
  }

  /** Binds to `port`, or to any where that is taken. */
  static async open(host: string, port: number, around: Around): Promise<DatagramRelay> {
    for (const at of [port, 0]) {
      const socket = createSocket(host.includes(':') ? 'udp6' : 'udp4')
      const isBound = await new Promise<boolean>((resolve, reject) => {
        socket.once('error', (error: NodeJS.ErrnoException) => {
          socket.close()
          if (at !== 0 && error.code === 'EADDRINUSE') resolve(false)
          else reject(error)
        })
        socket.bind(at, host, () => {
          socket.removeAllListeners('error')
          resolve(true)
        })
      })
      if (isBound) return new DatagramRelay(socket, around)
    }
    throw new Error('unreachable')
  }

  get port(): number {
    return this.socket.address().port
  }

  /** A board that lost its power knows nobody. */
  forget(): void {
    for (const socket of this.known.values()) socket.close()
    this.known.clear()
  }

  close(): void {
    this.forget()
    this.socket.close()
  }

  private pass(bytes: Buffer, from: RemoteInfo): void {
    const port = this.around.port()
    if (port === null) return
    this.around.passed('up', bytesText(bytes))
    this.inside(from).send(bytes, port, '127.0.0.1')
  }

  private inside(from: RemoteInfo): Socket {
    const name = `${from.address} ${from.port}`
    const known = this.known.get(name)
    if (known) return known
    const [first] = this.known.keys()
    if (first !== undefined && this.known.size >= MOST_KNOWN) {
      this.known.get(first)?.close()
      this.known.delete(first)
    }
    const socket = createSocket('udp4')
    socket.on('error', () => undefined)
    socket.on('message', bytes => {
      this.around.passed('down', bytesText(bytes))
      this.socket.send(bytes, from.port, from.address)
    })
    this.known.set(name, socket)
    return socket
  }
}
