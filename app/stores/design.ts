/**
 * The open design: edits, undo and redo, and autosave. Every change goes through a named edit of
 * the core.
 */
import { defineStore } from 'pinia'
import {
  edit as editHistory,
  redo as redoHistory,
  startHistory,
  undo as undoHistory,
  type History,
} from '../../core/design/history'
import type { Edit } from '../../core/design/edits/edits'
import { fingerprint as fingerprintOf } from '../../core/design/fingerprint'
import { parts as partsOf } from '../../core/design/part'
import type { Design } from '../../core/design/schema'
import { designText, warmed, type Problem } from '../../core/design/validate'
import { ask, type Refusal } from '../composables/server'

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'waiting' }
  | { kind: 'saving' }
  | { kind: 'offline' }
  | { kind: 'refused'; refusal: Refusal }
  /** The stored revision is newer than the one this window builds on. */
  | { kind: 'conflict'; theirs: number }

interface Stored {
  design: Design
  revision: number
}

const SAVE_AFTER_MS = 350
const RETRY_AFTER_MS = 2000

export const useDesignStore = defineStore('design', () => {
  const history = shallowRef<History | null>(null)
  const revision = ref(0)
  const save = ref<SaveState>({ kind: 'saved' })
  const missing = ref<Refusal | null>(null)
  const problems = ref<Problem[]>([])
  const lastWords = ref('')
  let unsavedWords: string[] = []
  let timer: ReturnType<typeof setTimeout> | undefined
  let storing = Promise.resolve()

  const design = computed(() => history.value?.design ?? null)
  /** Each controller with what belongs to it. */
  const parts = computed(() => (design.value ? partsOf(design.value) : []))
  const partOf = (controllerId: string) =>
    parts.value.find(p => p.controller.id === controllerId)?.part ?? null
  const fingerprint = computed(() => (design.value ? fingerprintOf(design.value) : ''))
  const canUndo = computed(() => (history.value?.done.length ?? 0) > 0)
  const canRedo = computed(() => (history.value?.undone.length ?? 0) > 0)

  async function open(id: string): Promise<void> {
    await flush()
    const answer = await ask<Stored>(`/api/designs/${encodeURIComponent(id)}`)
    missing.value = answer.ok ? null : answer.refusal
    if (answer.ok) {
      take(answer.value)
      whenIdle(warmed(answer.value.design))
    } else history.value = null
  }

  /** One step whenever there is nothing else to do. */
  function whenIdle(steps: Generator<void>): void {
    const idle =
      typeof requestIdleCallback === 'function'
        ? requestIdleCallback
        : (work: () => void) => setTimeout(work, 50)
    const next = () => {
      if (!steps.next().done) idle(next)
    }
    idle(next)
  }

  function take(stored: Stored): void {
    history.value = startHistory(stored.design)
    revision.value = stored.revision
    save.value = { kind: 'saved' }
    problems.value = []
    unsavedWords = []
  }

  /** Applies a named edit; a refused one changes nothing and says why. */
  function apply(edit: Edit): boolean {
    if (!history.value) return false
    const edited = editHistory(history.value, edit)
    problems.value = edited.ok ? [] : edited.problems
    if (!edited.ok) return false
    if (edited.history !== history.value) changed(edited.history, edited.words)
    return true
  }

  /** One edit under its own name, several as one under these words. */
  function applyAll(edits: Edit[], words: string): boolean {
    const [only] = edits
    return only && edits.length === 1
      ? apply(only)
      : edits.length > 0 && apply({ type: 'together', edits, words })
  }

  function undo(): void {
    turn(undoHistory)
  }
  function redo(): void {
    turn(redoHistory)
  }

  function turn(way: typeof undoHistory): void {
    const turned = history.value && way(history.value)
    if (turned) changed(turned.history, turned.words)
  }

  function changed(next: History, words: string): void {
    history.value = next
    if (!words) return
    lastWords.value = words
    unsavedWords.push(words)
    if (save.value.kind !== 'conflict' && save.value.kind !== 'saving') plan(SAVE_AFTER_MS)
  }

  function plan(afterMs: number): void {
    if (save.value.kind !== 'offline') save.value = { kind: 'waiting' }
    clearTimeout(timer)
    timer = setTimeout(() => {
      void store()
    }, afterMs)
  }

  function store(): Promise<void> {
    if (
      !design.value
      || unsavedWords.length === 0
      || save.value.kind === 'conflict'
      || save.value.kind === 'saving'
    )
      return Promise.resolve()
    storing = send(design.value)
    return storing
  }

  async function send(sent: Design): Promise<void> {
    const words = unsavedWords.splice(0)
    save.value = { kind: 'saving' }
    const answer = await ask<{ revision: number }>(`/api/designs/${sent.id}`, {
      method: 'PUT',
      body: { baseRevision: revision.value, design: sent, words: words.join('; ').slice(0, 2000) },
    })
    if (answer.ok) return landed(answer.value.revision)
    unsavedWords = [...words, ...unsavedWords]
    const { refusal } = answer
    if (refusal.status === 409) {
      // The answer to an earlier save may have been lost on its way: then what is stored is what
      // was sent.
      const there = await ask<Stored>(`/api/designs/${sent.id}`)
      if (there.ok && designText(there.value.design) === designText(sent)) {
        unsavedWords.splice(0, words.length)
        return landed(there.value.revision)
      }
      save.value = { kind: 'conflict', theirs: refusal.revision ?? 0 }
    } else if (refusal.status === 0) {
      save.value = { kind: 'offline' }
      plan(RETRY_AFTER_MS)
    } else save.value = { kind: 'refused', refusal }
  }

  function landed(stored: number): void {
    revision.value = stored
    save.value = { kind: 'saved' }
    if (unsavedWords.length) plan(SAVE_AFTER_MS)
  }

  /**
   * Saves what waits, before the design is left: also what was changed while a save was under way.
   */
  async function flush(): Promise<void> {
    await storing
    clearTimeout(timer)
    await store()
  }

  /** Answer to a conflict: mine goes on as a design of its own. Returns its id. */
  async function keepMineAsCopy(): Promise<string | null> {
    if (!design.value) return null
    const answer = await ask<Stored>('/api/designs', {
      method: 'POST',
      body: { ...design.value, name: `${design.value.name} (mine)`.slice(0, 40) },
    })
    if (!answer.ok) {
      save.value = { kind: 'refused', refusal: answer.refusal }
      return null
    }
    take(answer.value)
    return answer.value.design.id
  }

  /** Answer to a conflict: the stored revision replaces what this window holds. */
  async function takeTheirs(): Promise<void> {
    const id = design.value?.id
    unsavedWords = []
    save.value = { kind: 'saved' }
    if (id) await open(id)
  }

  return {
    history,
    design,
    parts,
    partOf,
    revision,
    save,
    missing,
    problems,
    lastWords,
    fingerprint,
    canUndo,
    canRedo,
    open,
    apply,
    applyAll,
    undo,
    redo,
    flush,
    keepMineAsCopy,
    takeTheirs,
  }
})
