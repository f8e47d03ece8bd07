/** Moments and days, written one way everywhere: "3 Nov 2026, 14:05". */
import dayjs from 'dayjs'

const DAY = 'D MMM YYYY'
const TIME = 'HH:mm'

/** A moment: day and time. */
export function whenWords(at: string): string {
  return dayjs(at).format(`${DAY}, ${TIME}`)
}

/** A day alone. */
export function dayWords(at: string): string {
  return dayjs(at).format(DAY)
}

/** A time of day alone, where its day is told beside it. */
export function timeWords(at: string): string {
  return dayjs(at).format(TIME)
}

/** The same to the millisecond. */
export function preciseTimeWords(at: string): string {
  return dayjs(at).format(`${TIME}:ss.SSS`)
}
