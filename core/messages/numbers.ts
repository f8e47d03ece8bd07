/**
 * A number that goes with a command, so that a repeat of it is known for one: "fan on #7", fan=on
 * #7, {"fan":"on","no":7}, /fan/on?no=7. It stands between the command and its proof. Short codes
 * and structures have no room for it.
 */
import type { Link } from '../design/schema'
import { putBehind, takeBehind } from './dialects/behind'
import type { Behind } from './dialects/facet'

/** Numbers go from 1 to this and begin again. */
export const LAST_NUMBER = 65_535
/** Characters that a number adds to the longest command. */
export const NUMBER_LENGTH = 13

const NUMBER: Behind = {
  route: '\\?no=(\\d{1,5})',
  members: '"no":(\\d{1,5})',
  words: '#(\\d{1,5})',
}

/** The number after this one; after the last comes 1. */
export function nextNumber(number: number): number {
  return number >= LAST_NUMBER ? 1 : number + 1
}

/** A body with a number behind it. */
export function withNumber(link: Link, body: string, number: number): string {
  return putBehind(link, body, {
    route: `?no=${number}`,
    members: `"no":${number}`,
    words: `#${number}`,
  })
}

/** The command and its number; null where none stands there. */
export function numberBehind(link: Link, text: string): { body: string; number: number } | null {
  const taken = takeBehind(link, text, NUMBER)
  return taken && { body: taken.body, number: Number(taken.parts[0]) }
}
