/**
 * Within what a promise is examined. Presses, losses, drops, starts and cuts are not counted: any
 * number of each, at any moment.
 */
export interface Bounds {
  /**
   * Messages under way at once on a link, both ways together, up to which the search goes where
   * fewer do not suffice.
   */
  underWay: number
  /** Situations after which a search gives up. */
  situations: number
}

export const DEFAULT_BOUNDS: Bounds = { underWay: 6, situations: 200_000 }
/**
 * What fits into a packed situation, and into the memory of a browser: 35 bytes each, in two
 * workers.
 */
export const WIDEST: Bounds = { underWay: 8, situations: 8_000_000 }
