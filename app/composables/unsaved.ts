/**
 * What was changed and not stored yet, kept in the browser: a page that is closed, or a browser
 * that ends, before the save arrives loses nothing. One for each design; who wrote it last may
 * forget it.
 */
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import type { Design } from '../../core/design/schema'
import { designText, validateDesign, type Problem } from '../../core/design/validate'

export interface Unsaved {
  /** The window that keeps it. */
  by: string
  /** Digests of what may be stored if nobody else stored anything: known, or on its way there. */
  bases: string[]
  /** The number of what was known to be stored. */
  baseRevision: number
  words: string[]
  design: Design
}
export type Kept = { ok: true; kept: Unsaved } | { ok: false; problems: Problem[] }

type Place = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>
/** The browser's, for this address; none where somebody forbids it. */
export function browserPlace(): Place {
  try {
    return localStorage
  } catch {
    return { getItem: () => null, setItem: () => undefined, removeItem: () => undefined }
  }
}
const keyOf = (designId: string) => `nolvi unsaved ${designId}`

/** Of a whole design, in one order of its keys; the same design is not asked twice. */
export function digest(design: Design): string {
  const known = digests.get(design) ?? bytesToHex(sha256(utf8ToBytes(designText(design))))
  digests.set(design, known)
  return known
}
const digests = new WeakMap<Design, string>()

export function keepUnsaved(place: Place, unsaved: Unsaved): void {
  try {
    place.setItem(keyOf(unsaved.design.id), JSON.stringify(unsaved))
  } catch {
    // No room there, or none allowed: the save itself is under way all the same.
  }
}

/** What is kept of this design, of an older Nolvi read as a file is; null where nothing is. */
export function unsavedOf(place: Place, designId: string): Kept | null {
  try {
    const kept = asWritten(place, designId)
    if (!kept) return null
    const read = validateDesign(kept.design)
    return read.ok ? { ok: true, kept: { ...kept, design: read.design } } : read
  } catch (error) {
    return { ok: false, problems: [{ path: '', message: (error as Error).message }] }
  }
}

/** Forgets it, unless another window keeps its own there. */
export function forgetUnsaved(place: Place, designId: string, by: string): void {
  if (asWritten(place, designId)?.by === by) place.removeItem(keyOf(designId))
}

const asWritten = (place: Place, designId: string) =>
  JSON.parse(place.getItem(keyOf(designId)) ?? 'null') as Unsaved | null
