/** The ways in which links speak, a row each. */
import { speaksBytes } from '../../design/links/traits'
import type { DialectKind, Link } from '../../design/schema'
import { codesSpeech } from './codes'
import type { Speech } from './facet'
import { jsonSpeech } from './json'
import { linesSpeech } from './lines'
import { packedSpeech } from './packed'
import { pairsSpeech } from './pairs'
import { routesSpeech } from './routes'

const SPEECHES: Record<DialectKind, Speech> = {
  codes: codesSpeech,
  lines: linesSpeech,
  pairs: pairsSpeech,
  json: jsonSpeech,
  packed: packedSpeech,
}

/** How a link says what is not in the table of its codes. */
export function speechOf(link: Link): Speech {
  return speaksBytes(link) ? SPEECHES[link.dialect.kind] : routesSpeech
}

/** What starts each report on a link; "" where there is no such mark. */
export function markOf(link: Link): string {
  return speaksBytes(link) ? link.reportMark : ''
}
