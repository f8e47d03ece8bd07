/**
 * A short slug from a name that is not taken yet: "Booth extractor" -> booth-extractor,
 * booth-extractor-2.
 */
export function freshId(name: string, fallback: string, taken: readonly { id: string }[]): string {
  const slug =
    name
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^[^a-z]+/, '')
      .slice(0, 32)
      .replace(/-+$/, '') || fallback
  const ids = new Set(taken.map(t => t.id))
  let id = slug
  for (let n = 2; ids.has(id); n++) id = `${slug}-${n}`
  return id
}
