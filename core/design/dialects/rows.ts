/** The dialects, a row each. */
import { codes, codesWire } from './codes'
import type { DialectFacet, DialectWire } from './facet'
import { json, jsonWire } from './json'
import { lines } from './lines'
import { packed, packedWire } from './packed'
import { pairs } from './pairs'
import type { Dialect, DialectKind, DialectOf } from './schema'
import { textWire } from './text'

export const DIALECTS: { [K in DialectKind]: DialectFacet<DialectOf<K>> } = {
  codes,
  lines,
  pairs,
  json,
  packed,
}

const WIRES: { [K in DialectKind]: DialectWire<DialectOf<K>> } = {
  codes: codesWire,
  lines: textWire,
  pairs: textWire,
  json: jsonWire,
  packed: packedWire,
}

/** The row of a dialect. */
export function dialectRow({ kind }: Dialect): DialectFacet<Dialect> {
  return DIALECTS[kind]
}

/** How a dialect becomes bytes. */
export function wireRow({ kind }: Dialect): DialectWire<Dialect> {
  return WIRES[kind]
}
