/** A JSON object a line, with one load. */
import type { DialectOf } from './schema'
import type { DialectWire } from './facet'
import { textual, textWire } from './text'

export const jsonWire: DialectWire<DialectOf<'json'>> = {
  bare: false,
  roomBehind: true,
  readable: true,
  tells: true,
  looseSpaces: true,
  end: textWire.end,
  body: textWire.body,
  put: textWire.put,
  number: textWire.number,
  sized: () => null,
  checks: () => 0,
  started: () => '',
}

// Pure: who does not use it leaves it out.
export const json = /* @__PURE__ */ textual<DialectOf<'json'>>({
  words: 'a JSON object a line',
  name: 'JSON lines',
  marked: false,
  problems: (_, { reportMark }) =>
    reportMark === '' ? [] : [[['reportMark'], 'this dialect takes no report mark']],
  fresh: { kind: 'json', terminator: 'lf' },
})
