/**
 * What is connected of a design: its links, the sheet over all of them, and who looks on. Lives in
 * memory; what is to stay is kept as a record.
 */
import type { ServerResponse } from 'node:http'
import type { Design } from '../../core/design/schema'
import type { Prints } from '../../core/live/causes'
import { LiveSheet } from '../../core/live/sheet'
import {
  linkView,
  type ConnectionView,
  type DeskView,
  type TrafficNews,
} from '../../core/live/view'
import type { Commissioner } from './commissioner'
import { Connection, type Opening } from './connection'
import { push } from './replies'
import type { Trier } from './trier'
import type { Wire } from './wires/wire'

/** Whoever looks is told at most so often, ms. */
const TELL_MS = 150
const MOST_LOOKING = 32
export const MOST_CONNECTIONS = 16

export class Desk {
  private readonly connections = new Map<string, Connection>()
  private readonly looking = new Map<ServerResponse, Map<string, number>>()
  private timer: NodeJS.Timeout | undefined
  private sheet: LiveSheet
  private readonly epoch = performance.now()
  prints: Prints = {}
  commissioner: Commissioner | null = null
  trier: Trier | null = null
  /** Told whenever something may have changed. */
  readonly watchers = new Set<() => void>()

  constructor(public design: Design) {
    this.sheet = new LiveSheet(design)
  }

  /** ms since it was made. */
  get now(): number {
    return Math.round(performance.now() - this.epoch)
  }

  get links(): Connection[] {
    return [...this.connections.values()]
  }

  byLink(linkId: string): Connection | null {
    return this.links.find(c => c.of.linkId === linkId) ?? null
  }

  /** By load, what is on its pin where a board runs here. */
  get pins(): Readonly<Record<string, string>> {
    return Object.assign({}, ...this.links.map(c => c.of.pins?.() ?? {})) as Record<string, string>
  }

  maybe(id: string): Connection | null {
    return this.connections.get(id) ?? null
  }

  /** A link that is connected already is let go first: one at a time holds a port. */
  open(opening: Omit<Opening, 'changed' | 'clock'>): Connection {
    for (const c of this.links) if (c.of.linkId === opening.linkId) this.close(c.of.id)
    this.design = opening.design
    this.sheet = new LiveSheet(this.design)
    const connection = new Connection({
      ...opening,
      changed: () => this.changed(),
      clock: () => this.now,
    })
    this.connections.set(opening.id, connection)
    this.changed()
    return connection
  }

  close(id: string): void {
    this.connections.get(id)?.close()
    this.connections.delete(id)
    this.changed()
  }

  closeAll(): void {
    this.commissioner?.close()
    this.trier?.close()
    for (const { of } of this.links) this.close(of.id)
    clearTimeout(this.timer)
    for (const client of this.looking.keys()) client.end()
  }

  view(): DeskView {
    const { now } = this
    const connections = this.links.map(c => viewOf(c, this.prints, now))
    const rows = this.sheet.rows(
      this.links.map(c => c.live),
      now,
      this.pins,
    )
    return {
      now,
      connections,
      rows,
      commissioning: this.commissioner?.view() ?? null,
      trials: this.trier?.view() ?? null,
    }
  }

  /** The last messages of one connection, or of all. */
  traffic(after: ReadonlyMap<string, number> = new Map()): TrafficNews[] {
    return this.links.flatMap(({ of, live }) => {
      const known = after.get(of.id) ?? 0
      return live.crossed.filter(c => c.n > known).map(c => ({ ...c, connection: of.id }))
    })
  }

  /** Somebody looks on until he goes; false where there are too many. */
  look(response: ServerResponse): boolean {
    if (this.looking.size >= MOST_LOOKING) return false
    this.looking.set(response, new Map())
    response.on('close', () => this.looking.delete(response))
    this.tell(response, this.view())
    return true
  }

  changed(): void {
    for (const watcher of this.watchers) watcher()
    this.tellSoon()
  }

  /** Whoever looks is told, with whatever else comes meanwhile. */
  tellSoon(): void {
    this.timer ??= setTimeout(() => {
      this.timer = undefined
      if (!this.looking.size) return
      const view = this.view()
      for (const client of this.looking.keys()) this.tell(client, view)
    }, TELL_MS).unref()
  }

  private tell(client: ServerResponse, view: DeskView): void {
    const known = this.looking.get(client)
    if (!known) return
    const traffic = this.traffic(known)
    for (const { connection, n } of traffic) known.set(connection, n)
    push(client, `data: ${JSON.stringify({ ...view, traffic })}\n\n`)
  }
}

function viewOf(connection: Connection, prints: Prints, now: number): ConnectionView {
  const { of, live, why, openedAt, flooded, measuring } = connection
  return {
    ...linkView(live, prints, why, now),
    id: of.id,
    where: of.where,
    openedAt,
    revision: of.revision,
    flooded,
    measuring,
  }
}

/** The wire of a connection where it goes through a page. */
export function wireAs<W extends Wire>(
  connection: Connection | null,
  kind: abstract new (...given: never[]) => W,
): W | null {
  const wire = connection?.wireItself
  return wire instanceof kind ? wire : null
}
