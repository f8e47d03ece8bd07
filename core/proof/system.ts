/**
 * One load and one panel that shows it, as a finite system. Other panels matter to it only by the commands they send,
 * so they appear as commands that may arrive at any time: what holds here holds whatever the others believe, and the
 * search of a load grows with the sum of its panels instead of their product. A situation is three packed 32-bit words:
 *   word 0    controller state (12 bits), power, link up, levers (12), changes from elsewhere left (4), power cuts left (3)
 *   word 1    panel state (18), commands left (4), link drops left (4), losses left (4)
 *   word 2    four bytes: two messages on the way up, two on the way down
 */
import { remotes } from '../design/find'
import { isDatagram } from '../design/links'
import type { Design, Link, Output } from '../design/schema'
import { spokenValues, wantsOn } from '../design/values'
import { wireOf } from '../design/wire'
import { armedSlots, ControllerTable, Messages, PanelTable, type ControllerMove } from './machines'
import { project } from './project'

export interface Bounds {
  /** Changes from elsewhere: presses of hand controls and commands from other panels, all together. */
  presses: number
  /** Key presses on the panel. */
  commands: number
  /** Times its link drops and returns. */
  drops: number
  /** Messages lost while the link is up, where it can lose any. */
  losses: number
  powerCuts: number
  /** Situations after which the search gives up. */
  situations: number
}
export const QUICK: Bounds = { presses: 1, commands: 1, drops: 1, losses: 1, powerCuts: 1, situations: 60_000 }
export const THOROUGH: Bounds = { presses: 3, commands: 3, drops: 2, losses: 1, powerCuts: 1, situations: 3_000_000 }
/** Messages under way in one direction of one link. */
export const QUEUE = 2

export type SystemEvent =
  | { kind: 'deliverUp' | 'deliverDown' | 'overtakeUp' | 'overtakeDown' | 'loseUp' | 'loseDown' | 'drop' | 'return' | 'notice' | 'timeout' | 'poll' | 'repeat', panel: number }
  /** A timer of an output: end of a pulse or hold, of a dead time or a run. */
  | { kind: 'timer', load: number, slot: number }
  | { kind: 'press', input: number }
  /** A command from another panel reaches the controller. */
  | { kind: 'other', link: number, message: number, load: number, want: string }
  | { kind: 'key', panel: number, slot: number, load: number, want: string }
  /** A finger on a hand control of a held load stays, or leaves. */
  | { kind: 'hold' | 'letGo', input: number }
  | { kind: 'save' | 'cut' | 'powerOn' }

export class TooLarge extends Error {}

const POWER = 1
const MAX_LEVERS = 3

export class System {
  readonly design: Design
  readonly messages = new Messages()
  readonly controller: ControllerTable
  readonly panels: PanelTable[]
  readonly panelIds: string[]
  readonly events: SystemEvent[]
  readonly words: number
  private readonly linkIndex: number[]
  private readonly leverBit: number[]

  constructor(full: Design, readonly loadId: string, surfaceId: string, readonly bounds: Bounds) {
    this.design = project(full, loadId)
    const panels = remotes(this.design).filter(s => s.id === surfaceId)
    this.panelIds = panels.map(s => s.id)
    this.panels = panels.map(s => new PanelTable(this.design, s.id, this.messages))
    this.linkIndex = panels.map(s => this.design.links.findIndex(l => l.id === s.linkId))
    this.controller = new ControllerTable(this.design, this.messages, this.design.links.map(l => panels.findIndex(s => s.linkId === l.id)))
    let levers = 0
    this.leverBit = this.controller.program.inputs.map(i => i.control.kind === 'latching' ? levers++ : -1)
    if (levers > MAX_LEVERS) throw new TooLarge(`${levers} latching switches act on this load and its neighbours; the search takes ${MAX_LEVERS}`)
    this.words = 1 + 2 * panels.length
    this.events = this.listEvents()
  }

  /** Everything connected for the first time, all messages of that delivered, at rest. */
  initial(): Int32Array {
    const s = new Int32Array(this.words)
    const booted = this.controller.boot(this.controller.start(), 0)
    s[0] = booted.next | (POWER << 12) | (this.bounds.presses << 24) | (this.bounds.powerCuts << 28)
    this.panels.forEach((panel, p) => { s[1 + 2 * p] = panel.start() | (this.bounds.commands << 18) | (this.bounds.drops << 22) | (this.bounds.losses << 26) })
    for (let p = 0; p < this.panels.length; p++) {
      this.fire(s, { kind: 'return', panel: p })
      for (;;) {
        const queue = s[2 + 2 * p] as number
        if (queue & 0xFF) this.fire(s, { kind: 'deliverUp', panel: p })
        else if ((queue >>> 16) & 0xFF) this.fire(s, { kind: 'deliverDown', panel: p })
        else break
      }
    }
    return s
  }

  powered(s: Int32Array): boolean { return (((s[0] as number) >>> 12) & POWER) !== 0 }
  linkIsUp(s: Int32Array, p: number): boolean { return (((s[0] as number) >>> (13 + p)) & 1) !== 0 }
  controllerOf(s: Int32Array): number { return (s[0] as number) & 0xFFF }
  panelOf(s: Int32Array, p: number): number { return (s[1 + 2 * p] as number) & 0x3FFFF }
  /** Messages under way, first to arrive first. */
  queueOf(s: Int32Array, p: number, dir: 'up' | 'down'): number[] {
    const half = dir === 'up' ? (s[2 + 2 * p] as number) & 0xFFFF : (s[2 + 2 * p] as number) >>> 16
    return [half & 0xFF, half >>> 8].filter(Boolean)
  }

  /** The value of the load examined. */
  value(s: Int32Array): string { return this.controller.state(this.controllerOf(s)).value[0] as string }

  /** Nothing under way, no timer that would send or act, links up, power on; a polled panel would learn nothing new. */
  atRest(s: Int32Array): boolean {
    if (!this.powered(s)) return false
    const c = this.controllerOf(s)
    for (let p = 0; p < this.panels.length; p++) {
      if (s[2 + 2 * p] !== 0 || !this.linkIsUp(s, p) || this.panels[p]?.isWaiting(this.panelOf(s, p)) || this.panels[p]?.holds(this.panelOf(s, p))) return false
    }
    if (this.controller.armed(c)) return false
    for (let p = 0; p < this.panels.length; p++) if (this.learnsByAsking(c, this.panelOf(s, p), p)) return false
    return true
  }

  /**
   * Change `s` by the event. Returns false when the event cannot happen there, or would put more messages under way
   * than the bound allows (counted in `overflows`).
   */
  fire(s: Int32Array, event: SystemEvent): boolean {
    switch (event.kind) {
      case 'deliverUp': return this.deliverUp(s, event.panel, 0)
      case 'deliverDown': return this.deliverDown(s, event.panel, 0)
      case 'overtakeUp': return this.deliverUp(s, event.panel, 1)
      case 'overtakeDown': return this.deliverDown(s, event.panel, 1)
      case 'press': return this.press(s, event.input)
      case 'other': return this.other(s, event.link, event.message)
      case 'key': return this.key(s, event.panel, event.slot, event.load, event.want)
      case 'drop': return this.drop(s, event.panel)
      case 'return': return this.comeBack(s, event.panel)
      case 'notice': return this.notice(s, event.panel)
      case 'timeout': return this.timeout(s, event.panel)
      case 'poll': return this.poll(s, event.panel)
      case 'loseUp': return this.lose(s, event.panel, 0)
      case 'loseDown': return this.lose(s, event.panel, 16)
      case 'save': return this.save(s)
      case 'timer': return this.timer(s, event.load, event.slot)
      case 'repeat': return this.repeat(s, event.panel)
      case 'hold': return this.finger(s, event.input, 0)
      case 'letGo': return this.finger(s, event.input, 1)
      case 'cut': return this.cut(s)
      case 'powerOn': return this.powerOn(s)
    }
  }

  overflows = 0

  /** `place` 1: the second datagram under way arrives before the first. */
  private deliverUp(s: Int32Array, p: number, place: 0 | 1): boolean {
    const message = ((s[2 + 2 * p] as number) >>> (8 * place)) & 0xFF
    if (!message) return false
    this.popQueue(s, p, 0, place)
    return this.controllerMoves(s, this.controller.received(this.controllerOf(s), this.linkIndex[p] as number, message))
  }

  private deliverDown(s: Int32Array, p: number, place: 0 | 1): boolean {
    const message = ((s[2 + 2 * p] as number) >>> (16 + 8 * place)) & 0xFF
    if (!message) return false
    this.popQueue(s, p, 16, place)
    return this.panelMoves(s, p, (this.panels[p] as PanelTable).received(this.panelOf(s, p), message))
  }

  private press(s: Int32Array, input: number): boolean {
    const left = ((s[0] as number) >>> 24) & 0xF
    if (left === 0) return false
    const bit = this.leverBit[input] as number
    s[0] = (s[0] as number) - (1 << 24)
    const on = this.powered(s)
    if (bit < 0) return on && this.controllerMoves(s, this.controller.press(this.controllerOf(s), input))
    s[0] = (s[0] as number) ^ (1 << (21 + bit))
    const closed = ((s[0] as number) >>> (21 + bit)) & 1
    return !on || this.controllerMoves(s, this.controller.lever(this.controllerOf(s), input, closed ? 0 : 1))
  }

  private other(s: Int32Array, link: number, message: number): boolean {
    if ((((s[0] as number) >>> 24) & 0xF) === 0 || !this.powered(s)) return false
    s[0] = (s[0] as number) - (1 << 24)
    return this.controllerMoves(s, this.controller.received(this.controllerOf(s), link, message))
  }

  /** Taking the finger off costs no press: it has to come. */
  private finger(s: Int32Array, input: number, level: 0 | 1): boolean {
    const c = this.controllerOf(s)
    if (!this.powered(s) || this.controller.state(c).inputs[input]?.level === level) return false
    if (level === 0) {
      if ((((s[0] as number) >>> 24) & 0xF) === 0) return false
      s[0] = (s[0] as number) - (1 << 24)
    }
    return this.controllerMoves(s, this.controller.lever(c, input, level))
  }

  private timer(s: Int32Array, load: number, slot: number): boolean {
    const c = this.controllerOf(s)
    return armedSlots(this.controller.state(c).motion[load] ?? null).includes(slot) && this.controllerMoves(s, this.controller.timer(c, load, slot))
  }

  /** Left out while an earlier one is under way: it would bring nothing that the first does not. */
  private repeat(s: Int32Array, p: number): boolean {
    const table = this.panels[p] as PanelTable
    if (((s[2 + 2 * p] as number) & 0xFFFF) !== 0 || !table.holds(this.panelOf(s, p))) return false
    return this.panelMoves(s, p, table.repeat(this.panelOf(s, p)))
  }

  private key(s: Int32Array, p: number, slot: number, load: number, want: string): boolean {
    const word = s[1 + 2 * p] as number
    if (((word >>> 18) & 0xF) === 0) return false
    const move = (this.panels[p] as PanelTable).key(word & 0x3FFFF, slot, load, want)
    if (move.sends.length === 0) return false
    s[1 + 2 * p] = word - (1 << 18)
    return this.panelMoves(s, p, move)
  }

  private drop(s: Int32Array, p: number): boolean {
    const word = s[1 + 2 * p] as number
    if (!this.linkIsUp(s, p) || ((word >>> 22) & 0xF) === 0) return false
    s[1 + 2 * p] = word - (1 << 22)
    this.linkFalls(s, p)
    return this.controllerMoves(s, this.controller.linkDown(this.controllerOf(s), this.linkIndex[p] as number))
  }

  private comeBack(s: Int32Array, p: number): boolean {
    if (this.linkIsUp(s, p) || !this.powered(s)) return false
    this.notice(s, p)
    s[0] = (s[0] as number) | (1 << (13 + p))
    const table = this.panels[p] as PanelTable
    return this.controllerMoves(s, this.controller.linkUp(this.controllerOf(s), this.linkIndex[p] as number))
      && this.panelMoves(s, p, table.linkUp(this.panelOf(s, p)))
  }

  private notice(s: Int32Array, p: number): boolean {
    const table = this.panels[p] as PanelTable
    if (this.linkIsUp(s, p) || !table.state(this.panelOf(s, p)).up) return false
    return this.panelMoves(s, p, table.linkDown(this.panelOf(s, p)))
  }

  private timeout(s: Int32Array, p: number): boolean {
    const table = this.panels[p] as PanelTable
    return table.isWaiting(this.panelOf(s, p)) && this.panelMoves(s, p, table.timeout(this.panelOf(s, p)))
  }

  /** Asking is left out while an earlier question is under way: it would bring nothing that the first does not. */
  private poll(s: Int32Array, p: number): boolean {
    const table = this.panels[p] as PanelTable
    if (s[2 + 2 * p] !== 0 || table.state(this.panelOf(s, p)).pollDue === null) return false
    return this.panelMoves(s, p, table.poll(this.panelOf(s, p)))
  }

  private lose(s: Int32Array, p: number, shift: 0 | 16): boolean {
    const word = s[1 + 2 * p] as number
    if (!(((s[2 + 2 * p] as number) >>> shift) & 0xFF) || ((word >>> 26) & 0xF) === 0) return false
    s[1 + 2 * p] = word - (1 << 26)
    this.popQueue(s, p, shift)
    return true
  }

  private save(s: Int32Array): boolean {
    const c = this.controllerOf(s)
    return this.controller.state(c).saveDue.some(due => due !== null) && this.controllerMoves(s, this.controller.save(c))
  }

  private cut(s: Int32Array): boolean {
    if (!this.powered(s) || (((s[0] as number) >>> 28) & 7) === 0) return false
    s[0] = ((s[0] as number) - (1 << 28)) & ~(POWER << 12)
    for (let p = 0; p < this.panels.length; p++) this.linkFalls(s, p)
    return this.controllerMoves(s, this.controller.powerOff(this.controllerOf(s)))
  }

  private powerOn(s: Int32Array): boolean {
    if (this.powered(s)) return false
    s[0] = (s[0] as number) | (POWER << 12)
    let levers = 0
    this.leverBit.forEach((bit, input) => { if (bit >= 0 && ((s[0] as number) >>> (21 + bit)) & 1) levers |= 1 << input })
    return this.controllerMoves(s, this.controller.boot(this.controllerOf(s), levers))
  }

  private linkFalls(s: Int32Array, p: number): void {
    s[0] = (s[0] as number) & ~(1 << (13 + p))
    s[2 + 2 * p] = 0
  }

  private controllerMoves(s: Int32Array, move: ControllerMove): boolean {
    if (move.next > 0xFFF) throw new TooLarge('the controller has more than 4,096 states for this load')
    s[0] = ((s[0] as number) & ~0xFFF) | move.next
    for (const { panel, message } of move.sends) if (!this.pushQueue(s, panel, 16, message)) return false
    return true
  }

  private panelMoves(s: Int32Array, p: number, move: { next: number, sends: number[] }): boolean {
    if (move.next > 0x3FFFF) throw new TooLarge('a panel has more than 262,144 states for this load')
    s[1 + 2 * p] = ((s[1 + 2 * p] as number) & ~0x3FFFF) | move.next
    for (const message of move.sends) if (!this.pushQueue(s, p, 0, message)) return false
    return true
  }

  /** A message sent into a link that is down is gone; the sender does not know. */
  private pushQueue(s: Int32Array, p: number, shift: 0 | 16, message: number): boolean {
    if (!this.linkIsUp(s, p)) return true
    const word = s[2 + 2 * p] as number
    const half = (word >>> shift) & 0xFFFF
    if (half > 0xFF) {
      this.overflows++
      return false
    }
    s[2 + 2 * p] = word | ((half === 0 ? message : message << 8) << shift)
    return true
  }

  private popQueue(s: Int32Array, p: number, shift: 0 | 16, place: 0 | 1 = 0): void {
    const word = s[2 + 2 * p] as number
    const both = (word >>> shift) & 0xFFFF
    const half = place ? both & 0xFF : both >>> 8
    s[2 + 2 * p] = (word & ~(0xFFFF << shift)) | (half << shift)
  }

  private learnsByAsking(c: number, panelState: number, p: number): boolean {
    const table = this.panels[p] as PanelTable
    if (table.state(panelState).pollDue === null) return false
    const asked = table.poll(panelState)
    let at = asked.next
    for (const ask of asked.sends) {
      for (const { panel, message } of this.controller.received(c, this.linkIndex[p] as number, ask).sends) {
        if (panel === p) at = table.received(at, message).next
      }
    }
    return at !== panelState
  }

  /** Deliveries first: among stories of equal length the one that reads most naturally is found first. */
  private listEvents(): SystemEvent[] {
    const panels = this.panels.map((_, p) => p)
    const each = (kind: 'deliverUp' | 'deliverDown' | 'overtakeUp' | 'overtakeDown' | 'drop' | 'return' | 'notice' | 'timeout' | 'loseUp' | 'loseDown') => panels.map(panel => ({ kind, panel }))
    const overtakes = (p: number) => isDatagram(this.design.links[this.linkIndex[p] as number] as Link)
    const canLose = (p: number) => (this.design.links[this.linkIndex[p] as number]?.timing.lossPerMille ?? 0) > 0
    return [
      ...each('deliverUp'), ...each('deliverDown'),
      ...each('overtakeUp').filter(e => overtakes(e.panel)), ...each('overtakeDown').filter(e => overtakes(e.panel)),
      ...this.controller.program.inputs.flatMap(({ control, load }, input): SystemEvent[] => control.kind === 'push' && this.design.loads[load]?.output.kind === 'held'
        ? [{ kind: 'hold', input }, { kind: 'letGo', input }]
        : [{ kind: 'press', input }]),
      ...panels.flatMap(panel => this.keysOf(panel)),
      ...this.commandsFromElsewhere(),
      ...each('drop'), ...each('return'), ...each('notice'), ...each('timeout'),
      ...panels.filter(p => this.panels[p]?.program.panel.pollMs).map(panel => ({ kind: 'poll' as const, panel })),
      ...panels.filter(p => this.panels[p]?.program.outputs.some(o => o.kind === 'held')).map(panel => ({ kind: 'repeat' as const, panel })),
      ...this.timers(),
      ...each('loseUp').filter(e => canLose(e.panel)), ...each('loseDown').filter(e => canLose(e.panel)),
      { kind: 'save' }, { kind: 'cut' }, { kind: 'powerOn' },
    ]
  }

  private commandsFromElsewhere(): SystemEvent[] {
    return this.design.links.flatMap((link, i) => this.linkIndex.includes(i) ? [] : link.messages.flatMap((m) => {
      const load = this.design.loads.findIndex(l => l.id === m.loadId)
      return spokenValues(this.design.loads[load]?.output as Output).flatMap((want): SystemEvent[] => {
        const text = wireOf(link, m.codes[want] ?? '', 'command')
        return text === '' ? [] : [{ kind: 'other', link: i, message: this.messages.number(text, 'command'), load, want }]
      })
    }))
  }

  private timers(): SystemEvent[] {
    const holders = this.controller.program.links.length + this.controller.program.inputs.length
    const slots: Record<Output['kind'], number> = { switched: 3, level: 0, follower: 0, pulsed: 1, opposed: 2, held: holders }
    return this.design.loads.flatMap(({ output }, load) => Array.from({ length: output.kind === 'switched' && output.limits ? 5 : slots[output.kind] }, (_, slot): SystemEvent => ({ kind: 'timer', load, slot })))
  }

  private keysOf(panel: number): SystemEvent[] {
    const program = (this.panels[panel] as PanelTable).program
    return this.design.loads.flatMap((load, i) => {
      return program.messages[i] ? wantsOn(program.panel.keys, load).map(want => ({ load: i, want })) : []
    }).map((key, slot): SystemEvent => ({ kind: 'key', panel, slot, ...key }))
  }
}
