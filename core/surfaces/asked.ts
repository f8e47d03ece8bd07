/**
 * What a surface said with a proof and was not answered yet: a refusal that tells with which number
 * to sign has it said once more. A page whose link asks for no proof holds `unasked.ts` instead.
 */
import { deviceOf } from '../bytes/signing'
import type { Auth, FarSurface, Link } from '../design/schema'
import { isAnswered, isSigned, worstWayMs } from '../design/links/traits'
import { clock32, reached } from '../units/clock'

/** A command without its proof. `want`: what answers it; "" = whatever is told of its load. */
export interface Asked {
  code: string
  number: number
  load: number
  want: string
  until: number
  tries: number
}

/** What is worked on in place: the last count, and what waits, the oldest first. */
interface Asking {
  counter: number
  asked: readonly Asked[]
}

/** A command is said once more with the count that is right. */
const RECOUNTS = 1
/** Of several that are said at once one is taken a round: it uses up the number. */
const ANSWERS = 8
/** Commands that wait for their answers at once. */
export const MOST_ASKED = 16

/**
 * How long after it was said a command is still signed, ms. Where whoever presses waits longer than
 * a number is good, by a way there and back at least, it is signed only as long as its number will
 * be old when they give up: then nobody can keep it back any longer.
 */
export function signingMs(link: Link, { policy, timeoutMs }: FarSurface['belief']): number {
  const { auth } = link
  const spareMs = isAnswered(auth) ? timeoutMs - auth.validS * 1000 : 0
  return policy === 'confirm' && spareMs >= 2 * worstWayMs(link) ? spareMs : timeoutMs
}

/**
 * Keeps what was said; nothing where nothing is signed. `before`: what is said once more, whose
 * time goes on.
 */
export function keepAsked(
  state: Asking,
  { link, panel }: { link: Link; panel: FarSurface },
  said: Pick<Asked, 'code' | 'number' | 'load' | 'want'>,
  before: Asked | null,
  now: number,
): void {
  if (!isSigned(link.auth)) return
  const until = before?.until ?? clock32(now + signingMs(link, panel.belief))
  const tries = before ? before.tries + 1 : 0
  state.asked = [...state.asked.slice(1 - MOST_ASKED), { ...said, until, tries }]
}

/**
 * Without the first that is answered by a value of a load; "" = whatever it is. Each command has an
 * answer of its own.
 */
export function dropAnswered(state: Asking, load: number, value: string): void {
  const at = state.asked.findIndex(
    a => (a.load === load || a.load < 0) && (value === '' || a.want === '' || a.want === value),
  )
  if (at >= 0) state.asked = state.asked.toSpliced(at, 1)
}

/**
 * What a refusal is about, where it is to be said once more with the number that it tells; null
 * where not. `load`: the one that it is about, -1 = not known: what was said first is.
 */
export function askedAgain(
  state: Asking,
  auth: Auth,
  told: number | undefined,
  load: number,
  now: number,
): Asked | null {
  if (told === undefined || !(isAnswered(auth) || deviceOf(told) === deviceOf(state.counter)))
    return null
  state.counter = told
  const good = state.asked.filter(a => !reached(now, a.until))
  const found = good.find(a => load < 0 || a.load === load)
  state.asked = good.filter(a => a !== found)
  return found && found.tries < (isAnswered(auth) ? ANSWERS : RECOUNTS) ? found : null
}
