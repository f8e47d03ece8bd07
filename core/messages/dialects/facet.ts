/**
 * How a dialect says what is not in the table of its codes, and how its codes are made: rows joined
 * in `rows.ts` and `makers.ts`. Routes are a way of speaking like the others.
 */
import type { Codes, Design, Load } from '../../design/schema'

/** What may stand behind a command: a text for each way, or a pattern with groups for its parts. */
export interface Behind {
  route: string
  members: string
  words: string
}

/** `mark`: what starts each report on the link. A page of a panel carries this. */
export interface Speech {
  /** A command with something behind it. */
  put(body: string, behind: Behind): string
  /** The source of a pattern of what stands behind a command. */
  pattern(behind: Behind): string
  /** What a command needs back that gave way to what stood behind it. */
  closing: string
  /** A reading, without its end; "" where there is no room. */
  reading(mark: string, code: string, text: string): string
  /** The value of a reading; null where the body is none of this code. */
  value(mark: string, code: string, body: string): string | null
  /** How a refusal tells the counter that was taken last; "" where there are no words for it. */
  counter(mark: string, counter: number): string
  /** The answer to what is not understood, where there are words. */
  error(mark: string, text: string): string
  /** Such a counter, in a text without its mark. */
  counterPattern: RegExp
}

export type School = 'letters' | 'digits' | 'routes' | 'parameters' | 'template' | 'numbers'

/** Where codes are made: what is taken already, and how loads are called in lines. */
export interface Making {
  design: Design
  taken: Set<string>
  words: ReadonlyMap<string, string>
}

/** What makes the codes of a link, whichever way it speaks. */
export interface LinkMaker<D> {
  /** How codes can be assigned, the usual way first. */
  schools: readonly [School, ...School[]]
  /** Codes for all values of a load. */
  values(dialect: D, load: Load, making: Making): Codes
  /** A code for a relative wish of a load, such as "toggle". */
  wish(dialect: D, load: Load, wish: string, making: Making): string
  /** A code for the scene of an id, the `at`th of the design, from 0. */
  scene(dialect: D, sceneId: string, at: number, making: Making): string
}

export interface CodeMaker<D> extends LinkMaker<D> {
  /** The question for the state. */
  ask(dialect: D): string
  /** The question who is there; "" where there is no room for it. */
  hello: string
  /** The answer to who is there; `mark` starts it where the dialect has marks. */
  here(mark: string, speaks: string, fingerprint: string, starts: number): string
  /** A dialect of the same kind may make other codes. */
  codesVary: boolean
}

/** A text that starts so, without its start; null where it does not. */
export function after(text: string, start: string): string | null {
  return text.startsWith(start) ? text.slice(start.length) : null
}
