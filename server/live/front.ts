/**
 * What stands before a controller on this machine, a stand-in or its program: a server with the
 * wall page and the panel pages, who may come to it, and what was said.
 */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo, Socket } from 'node:net'
import { fingerprint } from '../../core/design/fingerprint'
import type { Design } from '../../core/design/schema'
import { speaksRoutes } from '../../core/design/links/traits'
import { practiceSecret } from '../../core/messages/sealing'
import { pathOf } from '../../core/messages/routes'
import { panelPage } from '../../core/sides/panel-page'
import { foreignName, foreignPage, foreignType, outsidePage } from '../guard/origin'
import { BadBody, page, push, readJson, text } from './replies'
import { wallPage, type WallState } from './wall-page'

export const MAX_CLIENTS = 64
const MAX_TRAFFIC = 200
const REQUEST_MS = 15_000
/** Longer than this the end of it waits for nobody. */
const CLOSE_MS = 2_000

/** Who may come to the ports of a controller, and who is answered over datagrams. */
export interface Gate {
  allows: (request: IncomingMessage) => boolean
  knows: (address: string) => boolean
}
export const OPEN: Gate = { allows: () => true, knows: () => true }

export interface TrafficLine {
  atMs: number
  linkId: string
  dir: 'up' | 'down'
  text: string
}

/**
 * What is told of a controller that runs here. `runs`: the core of Nolvi, or the program as it is
 * given away. `phase`: a program is made first; it may end by itself. `words`: why it does not run,
 * or what it leaves out; "" = nothing to say.
 */
export interface StandInInfo {
  id: string
  designId: string
  controllerId: string
  revision: number
  fingerprint: string
  address: string
  values: Record<string, string>
  clients: number
  datagramPorts: Record<string, number>
  /** By serial link: its TCP port, and its pseudo terminal where there is one. */
  serialPorts: Record<string, { port: number; path: string | null }>
  startedAt: string
  runs: 'stand-in' | 'program'
  phase: 'making' | 'running' | 'ended'
  words: string
}

/** What can be done on a wall. */
export interface WallDeed {
  controlId?: unknown
  power?: unknown
  finger?: unknown
  sensorId?: unknown
  raw?: unknown
  detents?: unknown
  key?: unknown
  repeat?: unknown
}

export abstract class Front {
  readonly traffic: TrafficLine[] = []
  private readonly startedAt = new Date().toISOString()
  private readonly server: Server
  private readonly sockets = new Set<Socket>()
  private readonly wallClients = new Set<ServerResponse>()
  private readonly epoch = performance.now()

  /** `secrets` by link; practice secrets stand for those not given. */
  constructor(
    readonly id: string,
    readonly design: Design,
    readonly revision: number,
    protected readonly secrets: Readonly<Record<string, string>>,
    protected readonly gate: Gate,
  ) {
    this.server = createServer((request, response) => {
      this.answer(request, response).catch(error => this.fail(response, error))
    })
    this.server.requestTimeout = this.server.headersTimeout = REQUEST_MS
    this.server.maxConnections = 4 * MAX_CLIENTS
    this.server.on('connection', socket => {
      this.sockets.add(socket)
      socket.on('close', () => this.sockets.delete(socket))
    })
  }

  abstract info(): StandInInfo
  /** What its wall looks like now. */
  protected abstract wallNow(): WallState
  /** What could not be done, in words; null = it was done. */
  protected abstract does(deed: WallDeed): string | null
  /** Its other ports. */
  protected abstract opens(host: string): Promise<void>
  /** Whatever is not of the wall and of panels. */
  protected abstract other(
    path: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> | void

  /** Listens on the first free port of the list, or on any. */
  async listen(host: string, ports: readonly number[]): Promise<void> {
    for (const port of [...ports, 0]) {
      try {
        await new Promise<void>((resolve, reject) => {
          this.server.once('error', reject)
          this.server.listen(port, host, () => {
            this.server.off('error', reject)
            resolve()
          })
        })
        return await this.opens(host)
      } catch (error) {
        this.server.removeAllListeners('listening')
        if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
      }
    }
  }

  async close(): Promise<void> {
    const closed = new Promise(resolve => this.server.close(resolve))
    // Every socket, whatever the HTTP server thinks of it: one that is left would hold up whoever
    // waits for the end.
    for (const socket of this.sockets) socket.destroy()
    await Promise.race([closed, new Promise(resolve => setTimeout(resolve, CLOSE_MS).unref())])
  }

  /** ms since it was made. */
  protected now(): number {
    return Math.round(performance.now() - this.epoch)
  }

  /** What is told of it whatever runs behind. */
  protected about() {
    const { address, port } = this.server.address() as AddressInfo
    return {
      id: this.id,
      designId: this.design.id,
      controllerId: this.design.controllers[0]?.id ?? '',
      revision: this.revision,
      fingerprint: fingerprint(this.design),
      startedAt: this.startedAt,
      address: `http://${address}:${port}`,
    }
  }

  protected note(linkId: string, dir: 'up' | 'down', said: string): void {
    this.traffic.push({ atMs: this.now(), linkId, dir, text: said })
    if (this.traffic.length > MAX_TRAFFIC) this.traffic.shift()
  }

  /** Everybody who looks at the wall sees it as it is now. */
  protected tellWall(): void {
    const data = `data: ${JSON.stringify(this.wallNow())}\n\n`
    for (const client of this.wallClients) push(client, data)
  }

  protected secretOf(linkId: string): string {
    const link = this.design.links.find(l => l.id === linkId)
    return this.secrets[linkId] ?? (link ? practiceSecret(link) : '')
  }

  private async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const path = pathOf(request.url ?? '/')
    const { method = 'GET', headers } = request
    const own =
      path.startsWith('/_wall') || path.startsWith('/_wire/') || path.startsWith('/panel/')
    // A page of a stand-in may be framed and followed to; what it then asks for is asked by itself
    // alone.
    const asks = method !== 'GET' || path === '/_wall/events' || path.startsWith('/_wire/')
    const foreign =
      foreignName(headers)
      ?? (own
        ? asks
          ? (foreignPage(method, headers) ?? foreignType(method, headers, ['application/json']))
          : null
        : outsidePage(headers))
    if (foreign)
      return text(
        response,
        foreign.status,
        own ? `${foreign.title}: ${foreign.message}\n` : `${FOREIGN_WORDS[foreign.status]}\n`,
      )
    if (method !== 'OPTIONS' && !this.gate.allows(request))
      return text(response, 401, 'this device is not paired\n')
    if (path.startsWith('/_wall')) return this.wall(path, request, response)
    if (path.startsWith('/panel/')) return this.panel(path.slice(7), response)
    return this.other(path, request, response)
  }

  private panel(surfaceId: string, response: ServerResponse): void {
    const panel = this.design.surfaces.find(s => s.kind === 'panel' && s.id === surfaceId)
    if (panel?.kind !== 'panel') return text(response, 404, 'no such panel\n')
    const link = this.design.links.find(l => l.id === panel.linkId)
    page(
      response,
      panelPage(this.design, panel.id, {
        standInPath: speaksRoutes(link) ? undefined : `/_wire/${panel.linkId}`,
        secret: link && link.auth.kind !== 'none' ? this.secretOf(link.id) : undefined,
      }),
    )
  }

  private async wall(
    route: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    if (request.method === 'POST') {
      const not = this.does((await readJson(request)) as WallDeed)
      if (not !== null) return text(response, 404, `${not}\n`)
      this.tellWall()
      response.writeHead(204).end()
      return
    }
    if (route !== '/_wall/events') return page(response, wallPage(this.design))
    if (this.wallClients.size >= MAX_CLIENTS) return text(response, 503, 'too many clients\n')
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' })
    this.wallClients.add(response)
    response.on('close', () => this.wallClients.delete(response))
    response.write(`data: ${JSON.stringify(this.wallNow())}\n\n`)
  }

  private fail(response: ServerResponse, error: unknown): void {
    if (response.headersSent) return void response.destroy()
    const bad = error instanceof BadBody
    text(response, bad ? 400 : 500, bad ? `${error.message}\n` : 'the stand-in failed\n')
    if (!bad) console.error(error)
  }
}

/** In the words of a board. */
const FOREIGN_WORDS: Readonly<Record<number, string>> = {
  403: 'asked for by a page from elsewhere',
  421: 'this is not the name of this board',
}
