/** The glossary of the documents, where it is read: words of a text are explained in place. */

/** What each word means, by the word in small letters. */
export type Glossary = ReadonlyMap<string, string>

/** From the table of the document: "| seal, signature | what it is |" explains both. */
export function glossaryOf(markdown: string): Glossary {
  const rows = [...markdown.matchAll(/^\| ([^|]+) \| ([^|]+) \|$/gm)].filter(
    ([, word]) => word !== 'word',
  )
  return new Map(
    rows.flatMap(([, words = '', meaning = '']) =>
      words.split(', ').map((word): [string, string] => [word, meaning]),
    ),
  )
}

export interface TextPiece {
  text: string
  /** What it means, where the glossary has it. */
  means: string | null
}
/** A text in pieces; each word of the glossary is explained where it stands first. */
export function explained(text: string, words: Glossary): TextPiece[] {
  const pieces: TextPiece[] = []
  const told = new Set<string>()
  const known = [...words.keys()].toSorted((a, b) => b.length - a.length)
  if (!known.length) return [{ text, means: null }]
  let at = 0
  const pattern = new RegExp(`\\b(${known.join('|')})(?:e?s)?\\b`, 'gi')
  for (const found of text.matchAll(pattern)) {
    const word = (found[1] ?? '').toLowerCase()
    if (told.has(word)) continue
    told.add(word)
    if (found.index > at) pieces.push({ text: text.slice(at, found.index), means: null })
    pieces.push({ text: found[0], means: words.get(word) ?? null })
    at = found.index + found[0].length
  }
  if (at < text.length) pieces.push({ text: text.slice(at), means: null })
  return pieces
}
