/** load=value. A reading is code=value. */
import type { DialectOf } from '../../design/schema'
import { after, type Speech } from './facet'
import { lineMaker } from './line-maker'
import { spoken } from './text'

export const pairsSpeech: Speech = {
  ...spoken,
  reading: (mark, code, text) => `${mark}${code}=${text}`,
  value: (mark, code, body) => after(body, `${mark}${code}=`),
}

export const pairsMaker = /* @__PURE__ */ lineMaker<DialectOf<'pairs'>>(
  (_, word, value) => `${word}=${value}`,
)
