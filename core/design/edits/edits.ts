/**
 * Every change of a design is a named edit: plain data with a type, applied by a pure function and
 * told in words. Undo, redo, the log and the fixes of findings all use the same values. A refused
 * edit leaves the design untouched.
 */
import { applyPatches, enablePatches, produceWithPatches, type Patch } from 'immer'
import { keysOfBox } from '../boxes'
import { parts } from '../part'
import { needs } from '../pins'
import type { Design } from '../schema'
import { validateDesign, type Problem } from '../validate'
import { besideEdits, dropLamps } from './beside'
import { boardsEdits } from './boards'
import { controlsEdits } from './controls'
import { designEdits } from './design'
import { linksEdits } from './links'
import { loadsEdits } from './loads'
import { messagesEdits } from './messages'
import { panelsEdits } from './panels'
import { scenesEdits } from './scenes'
import { sensorsEdits } from './sensors'
import { surfacesEdits } from './surfaces'
import type { EditKind } from './define'
import { EditRefused } from './parts'

enablePatches()

/** The edits of one subject stand in one file; a new one is a row there. */
const SINGLE_EDITS = {
  ...designEdits,
  ...loadsEdits,
  ...surfacesEdits,
  ...controlsEdits,
  ...messagesEdits,
  ...linksEdits,
  ...scenesEdits,
  ...panelsEdits,
  ...sensorsEdits,
  ...boardsEdits,
  ...besideEdits,
}

type SingleEdits = typeof SINGLE_EDITS
type ArgsOf<Kind> = Kind extends EditKind<infer Args> ? Args : never

/** Arguments of each edit. */
export type EditArgs = { [T in keyof SingleEdits]: ArgsOf<SingleEdits[T]> } & {
  /** Several as one: one step of undo, one line in the log. */
  together: { edits: Edit[]; words: string }
}
export type EditType = keyof EditArgs
export type Edit = { [T in EditType]: { type: T } & EditArgs[T] }[EditType]

export type Applied =
  | { ok: true; design: Design; words: string; patches: Patch[]; inverse: Patch[] }
  | { ok: false; problems: Problem[] }

const EDITS: { [T in EditType]: EditKind<EditArgs[T]> } = {
  ...SINGLE_EDITS,
  together: {
    apply: (d, a) => {
      for (const edit of a.edits) run(d, edit)
    },
    words: (_, a) => a.words,
  },
}

/**
 * Apply one edit. The result is validated whole, so no edit can leave a design that would not load
 * again.
 */
export function applyEdit(design: Design, edit: Edit): Applied {
  try {
    const words = describeEdit(design, edit)
    const [next, patches, inverse] = produceWithPatches(design, draft => {
      run(draft as Design, edit)
      dropLamps(draft as Design)
      followBoxes(draft as Design)
      forgetKept(draft as Design)
    })
    const checked = validateDesign(next)
    if (!checked.ok) return checked
    return { ok: true, design: next, words, patches, inverse }
  } catch (error) {
    if (error instanceof EditRefused || error instanceof RangeError)
      return { ok: false, problems: [{ path: '', message: error.message }] }
    throw error
  }
}

/** What an edit does, in the maker's words. */
export function describeEdit(design: Design, edit: Edit): string {
  return kindOf(edit.type).words(design, edit as never)
}

/** The design after patches of its history. */
export function applyDesignPatches(design: Design, patches: Patch[]): Design {
  return applyPatches(design, patches)
}

function run(draft: Design, edit: Edit): void {
  kindOf(edit.type).apply(draft, edit as never)
}

/** Pins are kept for needs that are there; what was removed keeps none. */
function forgetKept(draft: Design): void {
  for (const { controller, part } of parts(draft)) {
    if (!controller.kept.length) continue
    const ids = new Set(needs(part).map(n => n.id))
    if (controller.kept.some(id => !ids.has(id)))
      controller.kept = controller.kept.filter(id => ids.has(id))
  }
}

/** Keys of boxes that are boards of the design follow from what is wired to them. */
function followBoxes(draft: Design): void {
  for (const box of draft.surfaces) {
    if (box.kind !== 'peer' || box.boardId === null) continue
    const { keys, scenes } = keysOfBox(draft, box)
    // What stays as it is is no change.
    if (JSON.stringify(keys) !== JSON.stringify(box.keys)) box.keys = keys
    if (JSON.stringify(scenes) !== JSON.stringify(box.scenes)) box.scenes = scenes
  }
}

function kindOf<T extends EditType>(type: T): EditKind<EditArgs[T]> {
  const kind = EDITS[type] as EditKind<EditArgs[T]> | undefined
  if (!kind) throw new EditRefused(`there is no edit "${String(type)}"`)
  return kind
}
