/** load=value, a line each. */
import type { DialectOf } from './schema'
import { textual } from './text'

// Pure: who does not use it leaves it out.
export const pairs = /* @__PURE__ */ textual<DialectOf<'pairs'>>({
  words: 'lines of load=value',
  name: 'load=value',
  problems: () => [],
  fresh: { kind: 'pairs', terminator: 'lf' },
})
