/** A start that is told by a flag of messages: whether a link has it, and what is said with it. */
import type { FarSurface, Link, Message } from '../design/schema'
import { startedCode } from '../design/wire'

/** Until something is heard, or once where nothing is ever told. */
export type Flagged = 'until heard' | 'once'

/** Whether messages of a link flag a start, and until when. */
export function flaggedOn(link: Link, { pollMs }: Pick<FarSurface, 'pollMs'>): Flagged | null {
  const messages = link.messages as Message[]
  const [code] = messages.flatMap(m => Object.values(m.codes).filter(Boolean))
  if (!code || startedCode(link, code) === '') return null
  const told = messages.some(m => m.ack || m.change)
  return told || link.onConnect || link.everyMs > 0 || pollMs > 0 ? 'until heard' : 'once'
}

/** The code with the flag, where it is still to be set. `state.fresh` is changed in place. */
export function flagged(
  { link, flagged: until }: { link: Link; flagged: Flagged | null },
  state: { fresh: boolean },
  code: string,
): string {
  if (until === 'once') state.fresh = false
  return until === null ? code : startedCode(link, code)
}
