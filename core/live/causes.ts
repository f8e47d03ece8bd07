/**
 * What is the matter with a connection, in the words of whoever stands before it: which side is
 * old, which speed is wrong, why nothing comes. Judged by what was heard alone.
 */
import type { Link } from '../design/schema'
import { hasSpeed, speaksBytes, structureOn } from '../design/links/traits'
import { helloCode } from '../messages/table'
import { isGarbled, type LiveLink } from './link'

export type CauseKind =
  | 'not reached'
  | 'silent'
  | 'wrong speed'
  | 'another design'
  | 'old side'
  | 'other table'
  | 'half messages'
  | 'restarts'
  | 'refuses'
  | 'lossy'

export interface Cause {
  kind: CauseKind
  words: string
  /** What to do about it. */
  way: string
}

/** Fingerprints that the design had: by print, the newest revision with it. */
export type Prints = Readonly<Record<string, number>>

/** Something that was asked waits so long until it is called silence, ms. */
export const SILENT_MS = 3000
/** Of so many characters a verdict on their table is made. */
const ENOUGH_CHARACTERS = 8

/** `why`: what the connection says of itself while it is down. */
export function causesOf(live: LiveLink, prints: Prints, why: string, now: number): Cause[] {
  const found: Cause[] = []
  const { link } = live
  if (!live.up) {
    if (why !== '') found.push({ kind: 'not reached', words: why, way: notReachedWay(link) })
    return found
  }
  const wrongSpeed = speedTrouble(live)
  if (wrongSpeed) found.push(wrongSpeed)
  const side = sideTrouble(live, prints)
  if (side) found.push(side)
  if (!wrongSpeed) found.push(...tableTrouble(live, side !== null))
  const since = live.waitingSince
  const isSilent = live.heardAt === null || live.heardAt < (live.changedAt ?? 0)
  if (isSilent && ((since !== null && now - since >= SILENT_MS) || live.delays.lost > 0))
    found.push(silence(link))
  else if (live.delays.lost > 0 && !wrongSpeed)
    found.push({
      kind: 'lossy',
      words: `${live.delays.lost} of ${live.delays.count + live.delays.lost} questions were not answered`,
      way: 'look at supply, distance and what else sends nearby; the measured loss can be taken over into the link',
    })
  if (live.restarts > 0)
    found.push({
      kind: 'restarts',
      words: `it started anew ${live.restarts === 1 ? 'once' : `${live.restarts} times`} while it was watched`,
      way: 'a supply that gives way when a relay pulls in, or a contact that is loose',
    })
  const refused = live.counts.refused ?? 0
  if (refused > 0 && link.auth.kind !== 'none')
    found.push({
      kind: 'refuses',
      words: `${refused} commands were refused`,
      way: 'the secret of the link here is not that of the board, or its clock is off: keep the same secret under Messages',
    })
  return found
}

function speedTrouble({ link, garbled, heardCharacters }: LiveLink): Cause | null {
  if (!hasSpeed(link) || structureOn(link)) return null
  if (!isGarbled(garbled, heardCharacters)) return null
  return {
    kind: 'wrong speed',
    words: `what comes is no text: ${garbled} of ${heardCharacters} characters have no meaning at ${link.baud} baud`,
    way: `set the module and the board to ${link.baud} baud, or the link to what they speak; a loose ground looks alike`,
  }
}

function sideTrouble({ hello, print }: LiveLink, prints: Prints): Cause | null {
  if (!hello || hello.fingerprint === print) return null
  const revision = prints[hello.fingerprint]
  return revision === undefined
    ? {
        kind: 'another design',
        words: `the board speaks table ${hello.fingerprint}, which no kept revision of this design had`,
        way: 'it is another board, or its program was made elsewhere: look at the port or the address',
      }
    : {
        kind: 'old side',
        words: `the board speaks table ${hello.fingerprint}, that was revision ${revision}; the design is at ${print}`,
        way: 'write its program anew from Build, and the pages that were given away with it',
      }
}

function tableTrouble(live: LiveLink, isOld: boolean): Cause[] {
  const { counts, link, unreadCharacters, heardCharacters } = live
  const half = counts.half ?? 0
  const found: Cause[] = []
  if (!isOld && unreadCharacters >= ENOUGH_CHARACTERS && 2 * unreadCharacters > heardCharacters)
    found.push({
      kind: 'other table',
      words: `${unreadCharacters} of ${heardCharacters} characters that came are in no message of this link`,
      way:
        helloCode(link) === ''
          ? 'this dialect cannot ask who is there: compare the codes of the board with Messages'
          : 'the board was programmed from another design, or speaks another dialect',
    })
  if (half >= 2)
    found.push({
      kind: 'half messages',
      words: `${half} messages broke off`,
      way: speaksBytes(link)
        ? 'bytes are lost on the way: a queue that is too short, a loose wire, or two who speak at once'
        : 'answers are cut short on the way',
    })
  return found
}

function silence(link: Link): Cause {
  return {
    kind: 'silent',
    words: 'it is connected, but nobody answers',
    way: hasSpeed(link)
      ? `look at: power of the board, the speed (${link.baud} baud), the two serial wires (each end's sending pin belongs to the other's receiving pin), the ground between them, and whether this is the right port`
      : 'look at: power of the board, and whether its program runs',
  }
}

function notReachedWay(link: Link): string {
  if (hasSpeed(link)) return 'look whether it is plugged in, and no other program holds it'
  return 'look whether the board has power, is in the same network, and has this address'
}
