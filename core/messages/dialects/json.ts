/** JSON lines: whatever is said is a member of the object. A reading is {"code":value}. */
import { PLACE } from '../../design/dialects/place'
import type { DialectOf } from '../../design/schema'
import { after, type Speech } from './facet'
import { lineMaker } from './line-maker'

export const jsonSpeech: Speech = {
  put: (body, { members }) => `${body.slice(0, -1)},${members}}`,
  pattern: ({ members }) => `,${members}\\}`,
  closing: '}',
  reading: (_, code, text) => `{"${code}":${isNumber(text) ? text : JSON.stringify(text)}}`,
  value(_, code, body) {
    const value = after(body, `{"${code}":`)
    return value?.endsWith('}') ? value.slice(0, -1).replaceAll('"', '') : null
  },
  counter: (_, counter) => `{"#":${counter}}`,
  error: (_, text) => `{"error":"${text.replaceAll(/["\\]/g, '')}"}`,
  counterPattern: /^\{"#":(\d{1,10})\}$/,
}

export const jsonMaker = /* @__PURE__ */ lineMaker<DialectOf<'json'>>(
  (_, word, value) =>
    `{"${word}":${/^\d+$/.test(value) || value === PLACE ? value : `"${value}"`}}`,
  {
    ask: () => '{"ask":1}',
    hello: '{"hello":1}',
    here: (_, speaks, fingerprint, starts) =>
      `{"hello":"${speaks}","fingerprint":"${fingerprint}","starts":${starts}}`,
  },
)

function isNumber(text: string): boolean {
  return /^-?(0|[1-9]\d*)(\.\d+)?$/.test(text)
}
