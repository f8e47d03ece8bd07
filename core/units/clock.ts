/**
 * Controller time: 32-bit milliseconds that wrap after 49.7 days. Two times are compared by their
 * signed difference, which is right as long as they lie less than 24.8 days apart.
 */
export function clock32(ms: number): number {
  return ms >>> 0
}

/** True when `now` is at or after `due`. */
export function reached(now: number, due: number): boolean {
  return ((now - due) | 0) >= 0
}

/** The earlier of two optional times. */
export function earlier(a: number | null, b: number | null): number | null {
  if (a === null) return b
  if (b === null) return a
  return reached(a, b) ? b : a
}
