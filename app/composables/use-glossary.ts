import { glossaryOf, type Glossary } from './glossary'

let read: Promise<Glossary> | null = null
/** The glossary of the documents; empty until it is fetched, which is done once. */
export function useGlossary() {
  const words = shallowRef<Glossary>(new Map())
  onMounted(async () => {
    words.value = await (read ??= import('../../docs/glossary.md?raw').then(m =>
      glossaryOf(m.default),
    ))
  })
  return words
}
