/** Who makes the codes of a dialect, a row each. */
import { speaksBytes } from '../../design/links/traits'
import type { Dialect, DialectKind, DialectOf, Link } from '../../design/schema'
import { codesMaker } from './codes'
import type { CodeMaker, LinkMaker } from './facet'
import { jsonMaker } from './json'
import { linesMaker } from './lines'
import { packedMaker } from './packed'
import { pairsMaker } from './pairs'
import { routesMaker } from './routes'

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

/** Who makes the codes of a link, and the dialect that is handed in; null where it has routes. */
export function makerOn(link: Link): [maker: LinkMaker<Dialect | null>, dialect: Dialect | null] {
  return speaksBytes(link) ? [makerOf(link.dialect), link.dialect] : [routesMaker, null]
}
