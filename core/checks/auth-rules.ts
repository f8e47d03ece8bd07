/**
 * Findings about who may command: what can be recorded and played again, guessed, or read by
 * others.
 */
import { guessingYears } from '../bytes/signing'
import type { Edit } from '../design/edits/edits'
import { linkTitle, maybeMessage, maybeFarSurfaceOn } from '../design/find'
import type { Auth, Design, Link } from '../design/schema'
import { dialectEdit } from '../messages/assign'
import { finding, onLink, type Rule } from './finding'
import { speaksRoutes, takesOnce, isSigned, onNetwork } from '../design/links/traits'
import { lines } from '../design/dialects/lines'
import { dialectRow } from '../design/dialects/rows'
import { seconds } from '../units/format'

/** Tries a second that a small board answers: a guess of that class, stated with each finding. */
const TRIES_PER_SECOND = 10
export const SIGNED: Extract<Auth, { kind: 'counter' }> = {
  kind: 'counter',
  tagBytes: 8,
  window: 4,
}

/** A number that the board hands out, good for so many seconds. */
export function answeredAuth(validS: number): Extract<Auth, { kind: 'challenge' }> {
  return { kind: 'challenge', tagBytes: 8, validS }
}

/** Another way of proving as one edit; a dialect without room for it becomes lines. */
export function authEdit(design: Design, link: Link, auth: Auth): Edit {
  const prove: Edit = { type: 'setLink', linkId: link.id, patch: { auth } }
  if (speaksRoutes(link) || auth.kind === 'none') return prove
  if (dialectRow(link.dialect).proves(link.dialect, auth)) return prove
  return {
    type: 'together',
    words: `${link.name} speaks in lines, and commands are proved`,
    edits: [dialectEdit(design, link.id, lines.fresh), prove],
  }
}

function signedEdit(design: Design, link: Link): Edit {
  return authEdit(design, link, SIGNED)
}

const SAID = { word: 'word', pin: 'PIN', counter: 'counter', time: 'time' } as const
const saidOf = (auth: Auth) => SAID[auth.kind as keyof typeof SAID]

/** A lock that opens by words anybody can record and play again. */
const replayableLocks: Rule = design =>
  design.loads.flatMap((load, i) =>
    load.wiring.dangers.includes('lock')
      ? design.links.flatMap(link => {
          const [value = '', code = ''] =
            Object.entries(maybeMessage(link, load.id)?.codes ?? {}).find(
              ([v, c]) => v !== 'off' && c !== '',
            ) ?? []
          if (code === '' || takesOnce(link.auth)) return []
          const what =
            link.auth.kind === 'none' ? `"${code}"` : `"${code}" with its ${saidOf(link.auth)}`
          const until =
            link.auth.kind === 'time'
              ? `for ${seconds(link.auth.toleranceS * 1000)} more`
              : 'today and tomorrow'
          return [
            finding({
              code: 'lock-replay',
              severity: 'stop',
              path: `/loads/${i}/wiring/dangers`,
              loadId: load.id,
              surfaceId: maybeFarSurfaceOn(design, link.id)?.id ?? null,
              title: `Whoever hears ${what} once opens ${load.name}`,
              reason: `${what} means ${value} ${until}. Shortest example: a stranger near the door records it on ${link.name}, and sends it again. A fixed word or PIN on the wire does not help; a keyed hash over a counter does, because each counter is taken once.`,
              fixes: [
                { words: 'Sign commands with a counter', edit: signedEdit(design, link) },
                {
                  words: `Take it off ${linkTitle(design, link)}`,
                  edit: { type: 'removeMessage', linkId: link.id, loadId: load.id },
                },
              ],
            }),
          ]
        })
      : [],
  )

/** Addresses end up in histories, logs and on screens of others. */
const wordsInAddresses: Rule = design =>
  design.links.flatMap(link =>
    speaksRoutes(link)
    && link.bodies === 'none'
    && (link.auth.kind === 'word' || link.auth.kind === 'pin')
      ? [
          finding({
            code: 'secret-in-address',
            severity: 'warn',
            ...onLink(design, link, '/auth'),
            title: `The ${link.auth.kind === 'pin' ? 'PIN' : 'word'} of ${linkTitle(design, link)} stands in the address`,
            reason:
              'It is kept in the history of the browser, in logs of the router, and is seen by whoever looks at the screen; over plain HTTP everybody in the network can read it.',
            fixes: [{ words: 'Sign commands with a counter', edit: signedEdit(design, link) }],
          }),
        ]
      : [],
  )

/** How long somebody tries until a PIN or a short tag is found by chance. */
const guessable: Rule = design =>
  design.links.flatMap(link => {
    const { auth } = link
    const guards = design.loads.filter(l => l.wiring.dangers.length && maybeMessage(link, l.id))
    const [load] = guards
    if (!load) return []
    const where = { ...onLink(design, link, '/auth'), loadId: load.id }
    if (auth.kind === 'pin') {
      const hours = 10 ** auth.digits / 2 / TRIES_PER_SECOND / 3600
      return hours > 24 * 365
        ? []
        : [
            finding({
              ...where,
              code: 'pin-guessed',
              severity: 'warn',
              title: `The PIN of ${linkTitle(design, link)} can be found by trying`,
              reason: `${auth.digits} digits are ${(10 ** auth.digits).toLocaleString('en')} numbers; at ${TRIES_PER_SECOND} tries a second one is found after ${hours < 48 ? `${hours.toFixed(1)} hours` : `${(hours / 24).toFixed(0)} days`} on average. Way out: a keyed hash, or a longer word.`,
              fixes: [{ words: 'Sign commands with a counter', edit: signedEdit(design, link) }],
            }),
          ]
    }
    if (!isSigned(auth)) return []
    const years = guessingYears(auth.tagBytes, TRIES_PER_SECOND)
    return years > 100
      ? []
      : [
          finding({
            ...where,
            code: 'tag-guessed',
            severity: 'warn',
            title: `The tag of ${linkTitle(design, link)} is short`,
            reason: `${auth.tagBytes} bytes are guessed after ${years.toFixed(0)} years on average at ${TRIES_PER_SECOND} tries a second, and sooner by luck or on a faster board.`,
            fixes: [
              {
                words: 'Take 8 bytes',
                edit: {
                  type: 'setLink',
                  linkId: link.id,
                  patch: { auth: { ...auth, tagBytes: 8 } },
                },
              },
            ],
          }),
        ]
  })

/** A board forgets the time with its power. */
const timeless: Rule = design =>
  design.links.flatMap(link => {
    if (link.auth.kind !== 'time') return []
    const alone = onNetwork(link) ? link.network === 'own' : true
    return [
      finding({
        ...onLink(design, link, '/auth'),
        code: 'time-needs-clock',
        severity: alone ? 'stop' : 'warn',
        title: `After a power cut the board does not know the time for ${linkTitle(design, link)}`,
        reason: `Commands carry the time of day and are taken within ${seconds(link.auth.toleranceS * 1000)} of it. ${alone ? 'On this link nothing tells the board the time' : 'The board learns it from the internet, through the router'}: until it knows it, nobody can command anything here. A clock chip with a battery keeps it; a counter needs no clock.`,
        fixes: [{ words: 'Sign commands with a counter', edit: signedEdit(design, link) }],
      }),
    ]
  })

export const AUTH_RULES: readonly Rule[] = [replayableLocks, wordsInAddresses, guessable, timeless]
