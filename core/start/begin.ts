/**
 * A design out of what is in the drawer: a board, loads, surfaces and hand controls. Pins, codes
 * and panels are chosen as anywhere in Nolvi; everything is an ordinary edit, to be changed later.
 */
import { classOf } from '../boards/classes'
import { answeredAuth, authEdit } from '../checks/auth-rules'
import { blankDesign } from '../design/blank'
import { applyEdit, type Edit } from '../design/edits/edits'
import { farSurfaces, linkOf } from '../design/find'
import { speaksRoutes, worstWayMs } from '../design/links/traits'
import { isSwitched, isLevel } from '../design/outputs/traits'
import { partOf } from '../design/part'
import { bestPins, boardOf, needs } from '../design/pins'
import type { Design } from '../design/schema'
import { asksOf } from '../design/values'
import { nextCodes } from '../messages/assign'
import { layOut } from '../panels/auto'
import { guardedDangers } from '../panels/danger'
import { LOADS } from './loads'
import { loadNames, type Drawer, type DrawerLoad } from './drawer'
import { HANDS, WAYS, type WayId } from './ways'

export interface Begun {
  design: Design
  /** What the board has no pin for. */
  unmet: string[]
}

/** Throws where an edit of it is refused, which none should be. */
export function begin(id: string, drawer: Drawer): Begun {
  const making = new Making(blankDesign(id, drawer.name.trim() || 'New design'))
  if (drawer.place) making.do({ type: 'setPlace', place: drawer.place })
  const names = loadNames(drawer)
  const boards = [drawer, ...(drawer.also ?? [])]
  boards.forEach((b, i) => making.board(b.board, i))
  for (const [i, { loads }] of boards.entries())
    making.loads(loads, names.splice(0, loads.length), drawer.afterCut, i)
  making.hands(drawer)
  boards.forEach(({ ways }, i) => ways.forEach(way => making.way(way, i)))
  making.proofs()
  making.pins()
  making.panels()
  return { design: making.design, unmet: making.unmet }
}

/** Common supplies: a board with radio, or a computer, with eight relays takes less. */
const supplyAmps = (selfAmps: number) => (selfAmps > 1 ? 3 : 2)

/** A number that was handed out is good for so long, s. */
const ANSWERED_WITHIN_S = 2

class Making {
  constructor(public design: Design) {}

  /** What had no place, and why. */
  readonly unmet: string[] = []

  do(edit: Edit): void {
    const why = this.refused(edit)
    if (why) throw new RangeError(`${edit.type}: ${why}`)
  }
  /** Why not; "" = it was done. */
  private refused(edit: Edit): string {
    const done = applyEdit(this.design, edit)
    if (!done.ok) return done.problems.map(p => `${p.path} ${p.message}`.trim()).join('; ')
    this.design = done.design
    return ''
  }
  /** Whether it found room on the board. */
  private found(what: string, edit: Edit): boolean {
    const why = this.refused(edit)
    if (why) this.unmet.push(`${what}: ${why}`)
    return !why
  }

  /** The first is there already. */
  board(board: string, nth: number): void {
    if (nth) this.do({ type: 'addController', name: `Board ${nth + 1}`, board })
    else {
      this.do({ type: 'setBoard', board })
      const { selfAmps } = classOf(boardOf(this.design))
      this.do({ type: 'setSupply', patch: { volts: 5, amps: supplyAmps(selfAmps) } })
    }
  }

  private controllerId(nth: number): string {
    return this.design.controllers[nth]!.id
  }

  loads(
    list: readonly DrawerLoad[],
    names: readonly string[],
    cut: Drawer['afterCut'],
    on: number,
  ) {
    list.forEach(({ what, dangers }, i) => {
      const { kind, wiring } = LOADS[what]
      const name = names[i]!
      const controllerId = this.controllerId(on)
      if (!this.found(name, { type: 'addLoad', name, controllerId })) return
      const { id: loadId } = this.design.loads.at(-1)!
      if (kind !== 'switched' && !this.found(name, { type: 'setKind', loadId, kind }))
        return this.do({ type: 'removeLoad', loadId })
      const { output } = this.design.loads.at(-1)!
      // What can hurt somebody never comes back by itself.
      if ((isSwitched(output) || isLevel(output)) && !dangers.length)
        this.do({ type: 'setOutput', loadId, patch: { powerUp: cut } })
      this.do({ type: 'setWiring', loadId, patch: { ...wiring, dangers } })
    })
  }

  hands({ hand }: Drawer): void {
    if (hand === 'none' || !this.design.loads.length) return
    this.do({ type: 'addHandSurface', name: HANDS[hand].name })
    const surfaceId = this.design.surfaces.at(-1)!.id
    for (const load of this.design.loads) {
      const kind = hand === 'switches' && isSwitched(load.output) ? 'latching' : 'push'
      const asks = asksOf(load.output, kind)[0] ?? 'toggle'
      this.found(`${load.name} on ${HANDS[hand].name}`, {
        type: 'addControl',
        surfaceId,
        loadId: load.id,
        kind,
        asks,
      })
    }
  }

  /** A panel with its link, with all loads of its board on it. */
  way(id: WayId, on: number): void {
    const { name, over, device } = WAYS[id]
    const taken = this.design.surfaces.filter(s => s.name.startsWith(name)).length
    const controllerId = this.controllerId(on)
    this.do({ type: 'addPanel', name: taken ? `${name} ${taken + 1}` : name, over, controllerId })
    const { id: surfaceId, linkId } = farSurfaces(this.design).at(-1)!
    this.do({ type: 'setPanel', surfaceId, patch: { device } })
    for (const load of this.design.loads.filter(l => l.controllerId === controllerId))
      this.do({
        type: 'addMessage',
        linkId,
        loadId: load.id,
        codes: nextCodes(this.design, linkOf(this.design, linkId), load),
      })
    // Once connected it knows everything.
    if (!linkOf(this.design, linkId).onConnect && over !== 'http')
      this.do({ type: 'reportOnConnect', linkId, onConnect: true })
  }

  /**
   * Where a stranger could play a recording again, or keep a command back for later, each command
   * answers a number that the board hands out.
   */
  proofs(): void {
    if (!this.design.loads.some(l => guardedDangers(l).length)) return
    for (const surface of farSurfaces(this.design)) {
      const link = linkOf(this.design, surface.linkId)
      const { id: linkId } = link
      // Whoever only looks at an address sets off nothing.
      if (speaksRoutes(link)) this.do({ type: 'setLink', linkId, patch: { method: 'post' } })
      // Nobody keeps a command back for longer than whoever pressed waits.
      const timeoutMs = 2 * worstWayMs(link) + 1000 * ANSWERED_WITHIN_S
      this.do({ type: 'setBelief', surfaceId: surface.id, patch: { policy: 'confirm', timeoutMs } })
      this.do(authEdit(this.design, linkOf(this.design, linkId), answeredAuth(ANSWERED_WITHIN_S)))
    }
  }

  /** What has no pin is taken off again. */
  pins(): void {
    for (const { id } of this.design.controllers) {
      let part = partOf(this.design, id)
      let best = bestPins(part)
      for (let [out] = best.unmet; out; [out] = best.unmet) {
        const { needId, why } = out
        const { controlId, loadId } = needs(part).find(n => n.id === needId)!
        this.unmet.push(why)
        if (controlId) this.do({ type: 'removeControl', controlId })
        else if (loadId) this.do({ type: 'removeLoad', loadId })
        else break
        part = partOf(this.design, id)
        best = bestPins(part)
      }
      const given = new Set(needs(part).flatMap(n => (n.fixed ? [n.id] : [])))
      const pins = best.assigned.filter(a => !given.has(a.needId)).map(a => [a.needId, a.chip])
      if (pins.length) this.do({ type: 'setPins', pins: Object.fromEntries(pins) })
    }
  }

  panels(): void {
    for (const surface of this.design.surfaces) {
      if (surface.kind !== 'panel') continue
      const part = partOf(this.design, linkOf(this.design, surface.linkId).controllerId)
      this.do({ type: 'setLayout', surfaceId: surface.id, ...layOut(part, surface) })
    }
  }
}
