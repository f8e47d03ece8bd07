/** Stands for `steps.ts` in the program of panel pages, whose keys ask for one step at a time. */
export { asked as askedBySteps } from './values'

/** One step, or none. */
export function stepsIn(asks: string): [step: 'up' | 'down' | null, times: number] {
  return asks === 'up' || asks === 'down' ? [asks, 1] : [null, 0]
}

const RELATIVE: ReadonlySet<string> = new Set(['toggle', 'up', 'down', 'next'])

/** Under which code a wish stands that goes on from the value there is; null for any other. */
export function relativeIn(asks: string): string | null {
  return RELATIVE.has(asks) ? asks : null
}
