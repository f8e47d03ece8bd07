/** Within what a promise is examined. */
export interface Bounds {
  /** Changes from elsewhere: hand controls, remotes, knobs, rules, and commands from other surfaces, all together. */
  presses: number
  /** Key presses on the surface that is looked at. */
  commands: number
  /** Times its link drops and returns. */
  drops: number
  /** Messages lost while the link is up, where it can lose any. */
  losses: number
  /** Datagrams that arrive twice. */
  doubles: number
  powerCuts: number
  /** Starts of the surface, where a promise is about them. */
  restarts: number
  /** Messages under way in one direction of the link. */
  queue: number
  /** Situations after which a search gives up. */
  situations: number
}

export const QUICK: Bounds = { presses: 1, commands: 1, drops: 1, losses: 1, doubles: 1, powerCuts: 1, restarts: 1, queue: 2, situations: 60_000 }
export const THOROUGH: Bounds = { presses: 2, commands: 2, drops: 1, losses: 1, doubles: 1, powerCuts: 1, restarts: 1, queue: 2, situations: 3_000_000 }
/** What fits into a packed situation, and into the memory of a browser: 30 bytes each, in two workers. */
export const WIDEST: Bounds = { presses: 15, commands: 15, drops: 7, losses: 7, doubles: 3, powerCuts: 7, restarts: 3, queue: 4, situations: 8_000_000 }

/** "2 changes from elsewhere, 2 presses, 1 link drop, ...". */
export function boundWords(b: Bounds): string {
  const many = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`
  return [
    many(b.presses, 'change').concat(' from elsewhere'), b.commands === 1 ? '1 press' : `${b.commands} presses`, many(b.drops, 'link drop'), many(b.powerCuts, 'power cut'),
    `${b.losses} lost and ${b.doubles} doubled messages where the link can`, `${many(b.queue, 'message')} under way each way`,
  ].join(', ')
}
