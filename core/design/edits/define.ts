/** What an edit is made of. */
import type { Design } from '../schema'

/** A change of a design: what it does to a draft, and what it says about that. */
export interface EditKind<Args> {
  /** Changes the draft in place. Throws `EditRefused` with the reason where it cannot. */
  apply(draft: Design, args: Args): void
  /** What it does, in the maker's words, told of the design as it was before. */
  words(before: Design, args: Args): string
}

/**
 * An edit with its arguments. They are plain data: the log, undo and the fixes of findings keep
 * them.
 */
export function defineEdit<Args>(kind: EditKind<Args>): EditKind<Args> {
  return kind
}

/** Any members of a thing of several kinds, whichever of them has them; `Fixed` are not changed. */
export type PatchOf<T, Fixed extends PropertyKey = 'id' | 'kind'> = {
  [K in Exclude<T extends T ? keyof T : never, Fixed>]?: T extends Record<K, infer V> ? V : never
}
