/** Lines of text, made by a template. */
import { parseTemplate } from '../../bytes/template'
import type { DialectOf } from './schema'
import { textual } from './text'

// Pure: who does not use it leaves it out.
export const lines = /* @__PURE__ */ textual<DialectOf<'lines'>>({
  words: 'lines of text',
  name: 'lines of text',
  problems({ template }) {
    const parsed = parseTemplate(template)
    return parsed.ok ? [] : [[['dialect', 'template'], parsed.message]]
  },
  fresh: { kind: 'lines', template: '{load} {value}', terminator: 'lf' },
})
