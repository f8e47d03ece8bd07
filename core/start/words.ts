/** Names and lists as they stand within a sentence. */

/** "Wheel lamp" within a sentence; what is an abbreviation stays one. */
export function within(name: string): string {
  return /^.[a-z ]/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name
}

/** "an extractor", "an 8-bit board". */
export function withArticle(words: string): string {
  return `${/^[aeiou8]/i.test(words) ? 'an' : 'a'} ${words}`
}

/** "a, b and c"; "nothing" of none. */
export function listed(words: readonly string[]): string {
  return words.length < 2
    ? (words[0] ?? 'nothing')
    : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
}
