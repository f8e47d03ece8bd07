/** What is wrong with a document, part by part: each problem names its place and a way out. */
import type { Design, Output } from '../schema'

/** `path`: RFC 6901 pointer. */
export interface Problem {
  path: string
  message: string
}
export type Path = PropertyKey[]

/** RFC 6901 pointer of a path. */
export function pointer(path: readonly PropertyKey[]): string {
  return path.map(part => '/' + String(part).replaceAll('~', '~0').replaceAll('/', '~1')).join('')
}

/** The ids of a list under its key, each with its place. */
export function indexed(list: { id: string }[], key: string): { id: string; path: Path }[] {
  return list.map((item, i) => ({ id: item.id, path: [key, i, 'id'] }))
}

export class Problems {
  readonly list: Problem[] = []
  /** Ids of each kind, with the place of the first that has it. */
  readonly boards: Map<string, Path>
  readonly controllers: Map<string, Path>
  readonly loads: Map<string, Path>
  readonly links: Map<string, Path>

  constructor(readonly design: Design) {
    this.boards = this.unique(indexed(design.boards, 'boards'), 'board')
    this.controllers = this.unique(indexed(design.controllers, 'controllers'), 'controller')
    this.loads = this.unique(indexed(design.loads, 'loads'), 'load')
    this.links = this.unique(indexed(design.links, 'links'), 'link')
  }

  say(path: Path, message: string): void {
    this.list.push({ path: pointer(path), message })
  }

  /** Says which ids are there twice; answers with where each stands first. */
  unique(ids: { id: string; path: Path }[], what: string): Map<string, Path> {
    const seen = new Map<string, Path>()
    for (const { id, path } of ids) {
      const first = seen.get(id)
      if (first) {
        const where = pointer(first)
        this.say(path, `${what} "${id}" is there already, at ${where}; give one of them another id`)
      } else seen.set(id, path)
    }
    return seen
  }

  /** Something of that id has to be known. */
  refers(known: Map<string, unknown>, id: string, what: string, path: Path): void {
    if (!known.has(id)) this.say(path, `there is no ${what} "${id}"; add it or name another`)
  }

  /** A scene of that id has to be there. */
  refersToScene(id: string, path: Path): void {
    if (!this.design.scenes.some(s => s.id === id))
      this.say(path, `there is no scene "${id}"; add it or name another`)
  }

  /** A load has to be switched by a controller. */
  sameBoard(loadId: string, controllerId: string, path: Path): void {
    const load = this.design.loads.find(l => l.id === loadId)
    if (load && load.controllerId !== controllerId)
      this.say(
        path,
        `"${loadId}" is switched by controller "${load.controllerId}", this belongs to "${controllerId}"; take a load of the same controller`,
      )
  }

  /** A load has to be switched by a controller, or be asked for by it over a link. */
  withinReach(loadId: string, controllerId: string, path: Path): void {
    if (!this.isAskedBy(loadId, controllerId)) this.sameBoard(loadId, controllerId, path)
  }

  private isAskedBy(loadId: string, controllerId: string): boolean {
    return this.design.surfaces.some(
      s =>
        s.kind === 'peer'
        && s.boardId === controllerId
        && this.design.links.some(
          l => l.id === s.linkId && l.messages.some(m => m.loadId === loadId),
        ),
    )
  }

  outputOf(loadId: string): Output | undefined {
    return this.design.loads.find(l => l.id === loadId)?.output
  }
}
