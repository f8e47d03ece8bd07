/** Which pins of the controller a design uses, and for what. */
import { boardProfile } from '../boards/boards'
import type { Design } from './schema'

export interface PinUse { pin: number, path: string, what: string, loadId?: string }

export function pinUses(design: Design): PinUse[] {
  return [
    ...design.loads.map((load, i) => ({ pin: load.output.pin, path: `/loads/${i}/output/pin`, what: load.name, loadId: load.id })),
    ...design.surfaces.flatMap((s, i) => s.kind === 'hand'
      ? s.controls.map((c, j) => ({ pin: c.pin, path: `/surfaces/${i}/controls/${j}/pin`, what: `${s.name}, ${c.kind === 'push' ? 'button' : 'switch'}`, loadId: c.loadId }))
      : []),
    ...design.links.flatMap((l, i) => l.kind === 'bluetooth-serial' && l.statusPin !== null
      ? [{ pin: l.statusPin, path: `/links/${i}/statusPin`, what: `${l.name}, connected line` }]
      : []),
  ]
}

/** Pins that carry nothing else, in board order. */
export function freePins(design: Design): number[] {
  const used = new Set(pinUses(design).map(u => u.pin))
  const board = boardProfile(design.controllers[0]?.board ?? '')
  return board.pins.filter(p => !p.taken && !used.has(p.chip)).map(p => p.chip)
}

export function pinLabel(design: Design, pin: number): string {
  return boardProfile(design.controllers[0]?.board ?? '').pins.find(p => p.chip === pin)?.label ?? `pin ${pin}`
}
