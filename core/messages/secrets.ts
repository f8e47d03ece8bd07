/**
 * What a secret of a link may be, so that it goes through every dialect, address and program
 * unchanged.
 */
import type { Link } from '../design/schema'
import { isSigned } from '../design/links/traits'
import { LONGEST_WORD } from './sealing'

/** What is wrong with a secret, or "". */
export function secretTrouble(link: Link, value: string): string {
  switch (link.auth.kind) {
    case 'none':
      return 'this link takes no secret'
    case 'pin':
      return /^\d+$/.test(value) && value.length === link.auth.digits
        ? ''
        : `the PIN is ${link.auth.digits} digits`
    case 'word':
    case 'counter':
    case 'time':
    case 'challenge': {
      if (!/^[A-Za-z0-9._~-]*$/.test(value))
        return 'letters, digits and . _ ~ - only, so that it goes through every dialect unchanged'
      const least = isSigned(link.auth) ? 16 : 4
      return value.length < least || value.length > LONGEST_WORD
        ? `${least} to ${LONGEST_WORD} characters`
        : ''
    }
  }
}

/** Those secrets that their links can take as they are now. */
export function fittingSecrets<T extends string | undefined>(
  links: readonly Link[],
  secrets: Readonly<Record<string, T>>,
): Record<string, T> {
  return Object.fromEntries(
    Object.entries(secrets).filter(([id, value]) =>
      links.some(l => l.id === id && value !== undefined && secretTrouble(l, value) === ''),
    ),
  )
}

/** A secret nobody can guess, from random bytes. */
export function freshSecret(link: Link, random: Uint8Array): string {
  if (link.auth.kind === 'pin')
    return Array.from(random.slice(0, link.auth.digits), b => b % 10).join('')
  const letters = 'ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz23456789'
  return Array.from(random.slice(0, 24), b => letters[b % letters.length]).join('')
}

/**
 * What each way of proving needs from the controller, and what it protects against. Figures of the
 * 8-bit class; sources in docs/messages.md.
 */
export interface AuthNeed {
  kind: Link['auth']['kind']
  words: string
  bytes: string
  memory: string
  clock: string
  wear: string
  protects: string
  against: string
}

export const AUTH_NEEDS: readonly AuthNeed[] = [
  {
    kind: 'none',
    words: 'nothing',
    bytes: '0',
    memory: 'nothing',
    clock: 'none',
    wear: 'none',
    protects: 'nobody',
    against: 'anybody in reach commands',
  },
  {
    kind: 'word',
    words: 'a fixed word',
    bytes: 'its length',
    memory: 'the word',
    clock: 'none',
    wear: 'none',
    protects: 'who has not listened',
    against: 'whoever heard it once plays it again',
  },
  {
    kind: 'pin',
    words: 'a PIN',
    bytes: 'its digits',
    memory: 'the PIN',
    clock: 'none',
    wear: 'none',
    protects: 'who has not listened and cannot try',
    against: 'heard once it is known; short ones are found by trying',
  },
  {
    kind: 'counter',
    words: 'a counter and a keyed hash',
    bytes: '4 to 10, and the tag',
    memory: '5 kB of program, 8 bytes that last',
    clock: 'none',
    wear: 'a write a command: 100,000 commands a cell',
    protects: 'listeners, repeaters, changers',
    against: 'a sender that lost its count has to start above it',
  },
  {
    kind: 'challenge',
    words: 'a number that the board hands out, and a keyed hash',
    bytes: '4 to 10, and the tag; each command is said twice',
    memory: '5 kB of program; a count of starts that lasts, or a source of chance',
    clock: 'none',
    wear: 'a write a start',
    protects:
      'listeners, changers; repeaters, and what is kept back once its number is used or old',
    against: 'three ways in place of one: slower, and nothing arrives where nothing comes back',
  },
  {
    kind: 'time',
    words: 'the time and a keyed hash',
    bytes: '4, and the tag',
    memory: '5 kB of program; 8 bytes more where each is taken once',
    clock: 'right to the tolerance, on both sides, after every power cut',
    wear: 'none',
    protects: 'listeners and changers; repeaters after the tolerance, or at once where taken once',
    against: 'a board that lost the time refuses everybody: it needs the internet or a clock chip',
  },
]
