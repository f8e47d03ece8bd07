/** Names and texts of makers, made safe for the language they go into. */
const HTML: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
}

/** Text as it may stand in HTML, attributes too. */
export function html(text: string): string {
  return text.replace(/[&<>"']/g, c => HTML[c] ?? c)
}

/** JSON for a script element: no "</script>" and no "<!--" can appear in it. */
export function scriptJson(value: unknown): string {
  return JSON.stringify(value)
    .replaceAll('<', '\\u003c')
    .replaceAll('\u2028', '\\u2028')
    .replaceAll('\u2029', '\\u2029')
}

/**
 * A C++ string literal. Octal escapes, because a hex escape would swallow a following digit.
 * `bytes`: one character a byte.
 */
export function cppString(text: string, bytes = false): string {
  return `"${[...text].map(c => (/[ !#-\x3E@-[\]-~]/.test(c) ? c : (bytes ? [c.charCodeAt(0)] : [...octets(c)]).map(b => `\\${b.toString(8).padStart(3, '0')}`).join(''))).join('')}"`
}

/** Text for a C++ line comment: one line, and no backslash at its end that would continue it. */
export function cppComment(text: string): string {
  return text.replace(/[\r\n]+/g, ' ').replace(/[\\?]/g, '/')
}

function octets(char: string): number[] {
  const code = char.codePointAt(0) ?? 0
  if (code < 0x80) return [code]
  if (code < 0x800) return [0xc0 | (code >> 6), 0x80 | (code & 63)]
  if (code < 0x10000) return [0xe0 | (code >> 12), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63)]
  return [
    0xf0 | (code >> 18),
    0x80 | ((code >> 12) & 63),
    0x80 | ((code >> 6) & 63),
    0x80 | (code & 63),
  ]
}
