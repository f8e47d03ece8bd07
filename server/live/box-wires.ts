/**
 * How boxes on the wall reach a program that runs here: by its own ports, each with a connection of
 * its own, as boxes of a house would; over a serial line by whoever holds it.
 */
import { onNetwork, isUdp, speaksRoutes } from '../../core/design/links/traits'
import type { Design } from '../../core/design/schema'
import type { WallBox } from './box'
import { openDatagramWire } from './wires/datagram-wire'
import { openHttpWire } from './wires/http-wire'
import type { Wire, WireEvents } from './wires/wire'

const HERE = '127.0.0.1'

/** Where the program is now, and who is told what passed. */
export interface Program {
  /** Its port for requests; null while it does not run. */
  http(): number | null
  /** Its port for datagrams of a link; null as above. */
  udp(linkId: string): number | null
  /** The line of a serial link, as one that is open; null where the program opens none. */
  line(linkId: string): { say(text: string): void } | null
  passed(linkId: string, dir: 'up' | 'down', text: string): void
}

export class BoxWires {
  private readonly wires = new Map<WallBox, Wire>()

  constructor(
    private readonly part: Design,
    private readonly boxes: readonly WallBox[],
    private readonly program: Program,
  ) {}

  /** It runs. */
  open(): void {
    for (const box of this.boxes) {
      const wire = this.wireOf(box)
      if (wire) this.wires.set(box, wire)
    }
  }

  /** It runs no more. */
  close(): void {
    for (const wire of this.wires.values()) wire.close()
    this.wires.clear()
    for (const box of this.boxes) box.link(false)
  }

  say(box: WallBox, text: string, about: number): void {
    this.wires.get(box)?.send(text, about)
  }

  /** What the program said over a serial line. */
  heard(linkId: string, text: string): void {
    for (const box of this.wires.keys()) if (box.linkId === linkId) box.hears(text, 'stream')
  }

  private wireOf(box: WallBox): Wire | null {
    const { linkId } = box
    const link = this.part.links.find(l => l.id === linkId)
    const events: WireEvents = {
      up: () => box.link(true),
      down: () => box.link(false),
      heard: (text, via, about) => {
        this.program.passed(linkId, 'down', text.trim())
        box.hears(text, via, about)
      },
    }
    if (speaksRoutes(link)) {
      const base = () => {
        const port = this.program.http()
        return port === null ? null : `http://${HERE}:${port}`
      }
      return this.noted(linkId, openHttpWire(link, base, events))
    }
    const port = link && isUdp(link) ? this.program.udp(linkId) : null
    if (port !== null) return this.noted(linkId, openDatagramWire(HERE, port, events))
    const line = link && !onNetwork(link) ? this.program.line(linkId) : null
    if (!line) return null
    // A wire is plugged in; nothing tells more of it. What is said at that goes over it.
    queueMicrotask(() => {
      if (this.wires.has(box)) box.link(true)
    })
    return { send: text => line.say(text), close: () => undefined }
  }

  private noted(linkId: string, wire: Wire): Wire {
    return {
      send: (text, about) => {
        this.program.passed(linkId, 'up', text)
        wire.send(text, about)
      },
      close: () => wire.close(),
    }
  }
}
