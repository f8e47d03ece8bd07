/** Base64 (RFC 4648, section 4) of bytes, for places without the functions of a browser. */
const DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'

/** Bytes as base64 with padding (RFC 4648, 4). */
export function base64(bytes: Uint8Array): string {
  let text = ''
  for (let i = 0; i < bytes.length; i += 3) {
    const [a = 0, b, c] = bytes.subarray(i, i + 3)
    const bits = (a << 16) | ((b ?? 0) << 8) | (c ?? 0)
    text +=
      DIGITS.charAt(bits >> 18)
      + DIGITS.charAt((bits >> 12) & 63)
      + (b === undefined ? '=' : DIGITS.charAt((bits >> 6) & 63))
      + (c === undefined ? '=' : DIGITS.charAt(bits & 63))
  }
  return text
}

/** Bytes of such a text; what is no digit of it is passed over. */
export function base64Bytes(text: string): Uint8Array {
  const bytes: number[] = []
  let bits = 0
  let count = 0
  for (const digit of text) {
    const value = DIGITS.indexOf(digit)
    if (value < 0) continue
    bits = ((bits << 6) | value) & 0xffffff
    count += 6
    if (count < 8) continue
    count -= 8
    bytes.push((bits >> count) & 0xff)
  }
  return Uint8Array.from(bytes)
}
