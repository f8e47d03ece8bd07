/**
 * What the design knows of a dialect: rows joined in `rows.ts`. A *body* is a message without its
 * end. A text of the wire holds one character a byte.
 */
import type { Auth, ByteLink, Design } from '../schema'
import type { Dialect } from './schema'

export type Direction = 'command' | 'report'
/** Place within the link, and what is wrong there. */
export type DialectProblem = [at: PropertyKey[], words: string]

/** How a message becomes bytes; a page of a panel carries this. */
export interface DialectWire<D extends Dialect> {
  /** Codes follow one another, without ends. */
  bare: boolean
  /** A number or a time can stand behind a command. */
  roomBehind: boolean
  /** People can read its messages, and each has an end: there is room for "who is there". */
  readable: boolean
  /** A value that is not in a table can be told. */
  tells: boolean
  /** Spaces outside quotes do not matter. */
  looseSpaces: boolean
  /** What ends each message; "" where they follow one another or have a known length. */
  end(dialect: D): string
  /** The body of a code. `reportMark`: what starts a report on this link. */
  body(dialect: D, code: string, direction: Direction, reportMark: string): string
  /** The code with a number in its place; "" where there is no room for numbers. */
  put(dialect: D, code: string, number: number): string
  /** The number that a body says; `place`: the body of the code that holds its place. */
  number(dialect: D, place: string, body: string): number | null
  /**
   * How messages with a number are told in a stream where nothing ends them: by what they begin
   * with, and their length. Null where they have an end.
   */
  sized(dialect: D, place: string): Sized | null
  /** Characters of a check, each of which may have to be told by two. */
  checks(dialect: D): number
  /**
   * The code with the flag that its sender has just started; "" where messages have no field for
   * it.
   */
  started(dialect: D, code: string): string
}

export interface Sized {
  head: string
  length: number
}

export interface DialectFacet<D extends Dialect> {
  /** How its messages look. */
  words: string
  /** How it is called; `short` where there is little room. */
  name: string
  short?: string
  /** Reports start with a mark. */
  marked: boolean
  /** A text of the wire as people read it. */
  shown(text: string): string
  /** What is wrong with a code that is not empty, or "". */
  trouble(dialect: D, code: string): string
  /** There is room for a proof of this kind. */
  proves(dialect: D, auth: Auth): boolean
  /** What is wrong with the dialect on a link. */
  problems(dialect: D, link: ByteLink, design: Design): DialectProblem[]
  /** What both sides agree on, for the fingerprint; starts with a space where it says anything. */
  agreed(dialect: D): string
  /** What a link starts with. */
  fresh: D
}
