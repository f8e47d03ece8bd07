/** Who makes the codes of a dialect, a row each. */
import type { Dialect, DialectKind, DialectOf } from '../../design/schema'
import { codesMaker } from './codes'
import type { CodeMaker } from './facet'
import { jsonMaker } from './json'
import { linesMaker } from './lines'
import { packedMaker } from './packed'
import { pairsMaker } from './pairs'

const MAKERS: { [K in DialectKind]: CodeMaker<DialectOf<K>> } = {
  codes: codesMaker,
  lines: linesMaker,
  pairs: pairsMaker,
  json: jsonMaker,
  packed: packedMaker,
}

/** Who makes the codes of a dialect. */
export function makerOf({ kind }: Dialect): CodeMaker<Dialect> {
  return MAKERS[kind]
}
