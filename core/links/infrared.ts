/**
 * An infrared key in the air: the pulse-distance frame of consumer remote controls with 32 bits. A
 * mark of 9 ms, a space of 4.5 ms, then 32 bits, least first: a mark of 562.5 µs with a space of
 * 562.5 µs for 0 and 1687.5 µs for 1, and a last mark. An address of up to 8 bits is followed by
 * its complement, a longer one takes both bytes; so with the command.
 */
export interface InfraredFrame {
  bytes: [number, number, number, number]
  ms: number
  reason: string
}

const UNIT_US = 562.5

/** The marks and spaces of a key, µs. Throws `RangeError` beyond 16 bits. */
export function infraredFrame(address: number, command: number): InfraredFrame {
  for (const [name, value] of [
    ['address', address],
    ['command', command],
  ] as const)
    if (!Number.isInteger(value) || value < 0 || value > 0xffff)
      throw new RangeError(`${name} ${value}: a whole number from 0 to 65,535`)
  const pair = (n: number): [number, number] => (n <= 0xff ? [n, ~n & 0xff] : [n & 0xff, n >> 8])
  const bytes: InfraredFrame['bytes'] = [...pair(address), ...pair(command)]
  const ones = bytes.reduce((n, b) => n + (b.toString(2).match(/1/g)?.length ?? 0), 0)
  const us = 9000 + 4500 + ones * 4 * UNIT_US + (32 - ones) * 2 * UNIT_US + UNIT_US
  return {
    bytes,
    ms: us / 1000,
    reason: `13.5 ms start, ${ones} ones of 2.25 ms, ${32 - ones} zeros of 1.125 ms, 0.56 ms end`,
  }
}

/** Time between a frame and its repeats while the key stays down, ms. */
export const REPEAT_MS = 108
