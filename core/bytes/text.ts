/** Bytes as text and back: a character each (Latin-1), or in hexadecimal. */

/** "05 02 C0" of a text of the wire. */
export function hexText(text: string): string {
  return Array.from(text, c => hexByte(c.charCodeAt(0))).join(' ')
}

function hexByte(byte: number): string {
  return byte.toString(16).toUpperCase().padStart(2, '0')
}

/** Text as bytes, a character each (Latin-1). */
export function textBytes(text: string): Uint8Array {
  return Uint8Array.from(text, c => c.charCodeAt(0))
}

/** Bytes as text, a character each (Latin-1). */
export function bytesText(bytes: Uint8Array): string {
  return Array.from(bytes, b => String.fromCharCode(b)).join('')
}

/** Hexadecimal digits as bytes. */
export function hexBytes(hex: string): Uint8Array {
  return Uint8Array.from(hex.match(/../g) ?? [], h => parseInt(h, 16))
}

/** Bytes as hexadecimal digits. */
export function bytesHex(bytes: Uint8Array): string {
  return Array.from(bytes, hexByte).join('')
}
