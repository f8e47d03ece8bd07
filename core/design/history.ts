/** Undo and redo over edits, as a value. The stack keeps patches, not whole documents. */
import type { Patch } from 'immer'
import { applyDesignPatches, applyEdit, type Edit } from './edits/edits'
import type { Design } from './schema'
import type { Problem } from './validate'

interface Entry {
  words: string
  patches: Patch[]
  inverse: Patch[]
}
export interface History {
  design: Design
  done: readonly Entry[]
  undone: readonly Entry[]
}
export type Edited =
  { ok: true; history: History; words: string } | { ok: false; problems: Problem[] }

/** Oldest steps beyond this many are forgotten; revisions in the store keep them all. */
const MAX_STEPS = 500

/** A history with nothing done yet. */
export function startHistory(design: Design): History {
  return { design, done: [], undone: [] }
}

/** The history after a change, or why that is refused. */
export function edit(history: History, change: Edit): Edited {
  const applied = applyEdit(history.design, change)
  if (!applied.ok) return applied
  if (applied.patches.length === 0) return { ok: true, history, words: '' }
  const { words, patches, inverse } = applied
  return {
    ok: true,
    words,
    history: {
      design: applied.design,
      done: [...history.done, { words, patches, inverse }].slice(-MAX_STEPS),
      undone: [],
    },
  }
}

/** The history with another design as one step, done elsewhere under these words. */
export function goOnWith(history: History, design: Design, words: string): History {
  const whole = (value: Design): Patch[] => [{ op: 'replace', path: [], value }]
  const step = { words, patches: whole(design), inverse: whole(history.design) }
  return { design, done: [...history.done, step].slice(-MAX_STEPS), undone: [] }
}

/** The history before its last change, and what that was; null where there is none. */
export function undo(history: History): { history: History; words: string } | null {
  const last = history.done.at(-1)
  if (!last) return null
  const design = applyDesignPatches(history.design, last.inverse)
  return {
    words: `Undone: ${last.words}`,
    history: { design, done: history.done.slice(0, -1), undone: [...history.undone, last] },
  }
}

/** The history after the change undone last, and what that was; null where there is none. */
export function redo(history: History): { history: History; words: string } | null {
  const last = history.undone.at(-1)
  if (!last) return null
  const design = applyDesignPatches(history.design, last.patches)
  return {
    words: `Done again: ${last.words}`,
    history: { design, done: [...history.done, last], undone: history.undone.slice(0, -1) },
  }
}
