/** The UDP links of a stand-in: a socket each, on the port of the design where it is free. */
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram'
import { bytesText, textBytes } from '../../core/bytes/text'

/** Everybody that was heard lately; reports go to the last, or to all of them. */
const MAX_KNOWN = 32

export class DatagramPort {
  private known: RemoteInfo[] = []
  private constructor(
    private readonly socket: Socket,
    private readonly toAll: boolean,
  ) {}

  /**
   * Binds to `port`, or to any where that is taken. `knows`: whose datagrams are looked at, by
   * address. `heard` tells whether what came was understood: who says nonsense is answered, and is
   * not who asked last.
   */
  static async open(
    host: string,
    port: number,
    toAll: boolean,
    knows: (address: string) => boolean,
    heard: (text: string) => boolean,
  ): Promise<DatagramPort> {
    for (const at of [port, 0]) {
      const socket = createSocket(host.includes(':') ? 'udp6' : 'udp4')
      try {
        await new Promise<void>((resolve, reject) => {
          socket.once('error', reject)
          socket.bind(at, host, () => {
            socket.off('error', reject)
            resolve()
          })
        })
      } catch (error) {
        socket.close()
        if (at === 0 || (error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
        continue
      }
      const opened = new DatagramPort(socket, toAll)
      // What went wrong with one answer is no reason to stop listening.
      socket.on('error', () => undefined)
      socket.on('message', (bytes, from) => {
        if (!knows(from.address)) return
        const before = opened.known
        opened.known = [
          from,
          ...before.filter(k => k.address !== from.address || k.port !== from.port),
        ].slice(0, MAX_KNOWN)
        if (!heard(bytesText(bytes))) opened.known = before
      })
      return opened
    }
    throw new Error('unreachable')
  }

  get port(): number {
    return this.socket.address().port
  }

  send(text: string): void {
    for (const to of this.toAll ? this.known : this.known.slice(0, 1))
      this.socket.send(textBytes(text), to.port, to.address)
  }

  /** A board that lost its power knows nobody. */
  forget(): void {
    this.known = []
  }

  close(): void {
    this.socket.close()
  }
}
