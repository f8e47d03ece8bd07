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
  const bytes = new Uint8Array(text.length)
  for (let i = 0; i < bytes.length; i++) bytes[i] = text.charCodeAt(i)
  return bytes
}

/** Bytes as text, a character each (Latin-1). */
export function bytesText(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return text
}

/** A text as it crosses the wire: its UTF-8, a character each byte. */
export function octets(text: string): string {
  // Nearly all that is said is ASCII, and stays as it is.
  return ASCII.test(text) ? text : bytesText(new TextEncoder().encode(text))
}
const ASCII = /^\p{ASCII}*$/u

/** Hexadecimal digits as bytes. */
export function hexBytes(hex: string): Uint8Array {
  return Uint8Array.from(hex.match(/../g) ?? [], h => parseInt(h, 16))
}

/** Bytes as hexadecimal digits. */
export function bytesHex(bytes: Uint8Array): string {
  return Array.from(bytes, hexByte).join('')
}
