/** What a measurement is, for the parts that `scripts/bench.mjs` runs. */
export interface MeasureOptions {
  unit: string
  /** A figure as it is. */
  value?: () => number
  /**
   * So often it is done before it is measured, so that the figure is that of a program that has
   * been at it for a while.
   */
  warmUp?: number
  /** Something that counts what it did; shown per second. */
  ours?: () => number
  other?: () => number
  otherName?: string
  counts?: boolean
}
export type Measure = (what: string, options: MeasureOptions) => void

/** How long something takes, ms. */
export function timed(run: () => unknown): number {
  const since = performance.now()
  run()
  return performance.now() - since
}
