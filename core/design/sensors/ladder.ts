/** A ladder of floats. */

/**
 * Which wet floats make sense: one above another, from the lowest. A higher wet one over a dry one
 * is a broken float.
 */
export function ladderReadings(floats: number): { wet: boolean[]; broken: boolean }[] {
  return Array.from({ length: 2 ** floats }, (_, bits) => {
    const wet = Array.from({ length: floats }, (_, i) => ((bits >> i) & 1) === 1)
    return { wet, broken: wet.some((w, i) => w && i > 0 && !wet[i - 1]) }
  })
}

/** What a ladder of floats tells instead of a level, when a float is broken. */
export const BROKEN_FLOAT = 'broken'
