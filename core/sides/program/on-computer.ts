/**
 * A part as a computer plays it, whatever board it is for: the program of a board with a network
 * is the engine, the server and the pages, and all of these run on any computer.
 */
import { derivedFrom } from '../../design/part'
import type { Design } from '../../design/schema'
import { isBoxPart } from './box'
import { canProgram, targetOf } from './can-program'
import { portsOf } from './carried'
import { programLacks } from './lacks'

const COMPUTER = 'board-linux-header'

/** The part on another board, with nothing in front of it. */
export function onBoard(part: Design, board: string): Design {
  const [controller, ...others] = part.controllers
  if (!controller) return part
  return derivedFrom(part, {
    ...part,
    front: null,
    controllers: [{ ...controller, board }, ...others],
  })
}

/** The part on the board of a computer, which has a network and any pin. */
export function onComputer(part: Design): Design {
  return onBoard(part, COMPUTER)
}

/** Why the program of a part cannot be run on a computer, in words; null where it can. */
export function whyNotHere(part: Design): string | null {
  const target = targetOf(part)
  if (isBoxPart(part) || !part.loads.length)
    return 'it asks other boards, and is asked for nothing: run theirs'
  if (target === null) return 'no program is made for its board'
  if (target === 'avr8') return 'it runs beside the bench, on the emulated board'
  if (target === 'router') return 'the script of a router runs on a router alone'
  if (!canProgram(part)) return 'no program can be made of it: its findings say why'
  return portsOf(onComputer(part)).length ? null : 'a computer has nothing that its links go over'
}

/**
 * What a program that runs here leaves out, in words. What its sensors give, it is told, whether a
 * computer could read them or not; so are the keys of a remote.
 */
export function leftOutHere(part: Design): string[] {
  return programLacks(onComputer(part))
    .filter(l => !l.path.includes('/sensors/'))
    .map(l => l.words)
}
