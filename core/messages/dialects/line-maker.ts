/** Codes of dialects of text. */
import type { Load } from '../../design/schema'
import { spokenValues } from '../../design/values'
import type { CodeMaker, Making } from './facet'
import { hereInWords } from './text'

/** Makes codes: a `line` for a word (of a load, or "scene") and a value; `own`: what differs. */
export function lineMaker<D>(
  line: (dialect: D, word: string, value: string) => string,
  own: Partial<CodeMaker<D>> = {},
): CodeMaker<D> {
  const made = (dialect: D, load: Load, value: string, { words }: Making) =>
    line(dialect, words.get(load.id) ?? load.id, value)
  return {
    schools: ['template'],
    ask: () => '?',
    hello: 'hello',
    values: (dialect, load, making) =>
      Object.fromEntries(
        spokenValues(load.output).map(value => [value, made(dialect, load, value, making)]),
      ),
    wish: made,
    scene: (dialect, sceneId) => line(dialect, 'scene', sceneId),
    here: hereInWords,
    codesVary: false,
    ...own,
  }
}
