/** Lines of text. A reading is the code, a space and the value. */
import { fill, parseTemplate } from '../../bytes/template'
import type { DialectOf } from '../../design/schema'
import { after, type Speech } from './facet'
import { lineMaker } from './line-maker'
import { spoken } from './text'

export const linesSpeech: Speech = {
  ...spoken,
  reading: (mark, code, text) => `${mark}${code} ${text}`,
  value: (mark, code, body) => after(body, `${mark}${code} `),
}

// Pure: who makes no codes leaves it out.
export const linesMaker = /* @__PURE__ */ lineMaker<DialectOf<'lines'>>(
  ({ template }, word, value) => {
    const parsed = parseTemplate(template)
    return parsed.ok ? fill(parsed.parts, { load: word, value }) : `${word} ${value}`
  },
  { codesVary: true },
)
