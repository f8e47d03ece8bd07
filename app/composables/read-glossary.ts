import { glossaryOf, type Glossary } from './glossary'

let read: Promise<Glossary> | null = null
/** The glossary of the documents, fetched when a word is asked for. */
export function readGlossary(): Promise<Glossary> {
  return (read ??= import('../../docs/glossary.md?raw').then(m => glossaryOf(m.default)))
}
