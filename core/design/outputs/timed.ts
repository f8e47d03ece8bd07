/**
 * What starts a timer of a switched load: on after a time, on for a time, on and off by turns. A
 * time may follow: "for:5000", in ms.
 */
export const TIMED = ['after', 'for', 'blink'] as const
export type Timed = (typeof TIMED)[number]
/** Whether it starts a timer: after, for, blink. */
export function isTimed(asks: string): asks is Timed {
  return (TIMED as readonly string[]).includes(asks)
}
