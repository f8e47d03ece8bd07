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
