/**
 * The open design: edits, undo and redo, and autosave. Every change goes through a named edit of
 * the core.
 */
import { defineStore } from 'pinia'
import {
  edit as editHistory,
  goOnWith,
  redo as redoHistory,
  startHistory,
  undo as undoHistory,
  type History,
} from '../../core/design/history'
import type { Edit } from '../../core/design/edits/edits'
import { fingerprint as fingerprintOf } from '../../core/design/fingerprint'
import { parts as partsOf } from '../../core/design/part'
import type { Design } from '../../core/design/schema'
import { warmed, type Problem } from '../../core/design/validate'
import { ask, type Refusal } from '../composables/server'
import { browserPlace, digest, forgetUnsaved, keepUnsaved, unsavedOf } from '../composables/unsaved'

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
/** Of what was sent without an answer, so many are known again. */
const MOST_SENT = 50

export const useDesignStore = defineStore('design', () => {
  const history = shallowRef<History | null>(null)
  const revision = ref(0)
  const save = ref<SaveState>({ kind: 'saved' })
  const missing = ref<Refusal | null>(null)
  const problems = ref<Problem[]>([])
  const lastWords = ref('')
  const place = browserPlace()
  const windowId = `${Date.now()} ${Math.random()}`
  /** What is stored; and digests of what may be: sent, and no answer came. */
  let base: Design | null = null
  let perhaps: string[] = []
  const bases = () => (base ? [digest(base), ...perhaps] : perhaps)
  let sending: string[] = []
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
      goOn(answer.value)
      whenIdle(readied(answer.value.design))
    } else history.value = null
  }

  function* readied(stored: Design): Generator<void> {
    yield* warmed(stored)
    digest(stored)
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
    builtOn(stored.design)
    revision.value = stored.revision
    save.value = { kind: 'saved' }
    problems.value = []
    unsavedWords = []
  }

  /** What was changed here and had not arrived when the page was closed. */
  function goOn(stored: Stored): void {
    const left = unsavedOf(place, stored.design.id)
    if (left && !left.ok)
      problems.value = left.problems.map(p => ({
        ...p,
        message: `what was changed here last, and not stored, cannot be read: ${p.message}`,
      }))
    if (!left?.ok || !history.value) return
    const { kept } = left
    const there = digest(stored.design)
    if (digest(kept.design) === there) return forgetUnsaved(place, kept.design.id, kept.by)
    history.value = goOnWith(history.value, kept.design, kept.words.join('; '))
    lastWords.value = `Not stored before: ${kept.words.join('; ')}`
    unsavedWords = kept.words
    // What the page that was closed had sent may still arrive.
    perhaps = kept.bases
    if (kept.bases.includes(there)) plan(0)
    else {
      base = null
      revision.value = kept.baseRevision
      save.value = { kind: 'conflict', theirs: stored.revision }
    }
    keep()
  }

  /** Until it is stored. */
  function keep(): void {
    if (design.value)
      keepUnsaved(place, {
        by: windowId,
        bases: bases(),
        baseRevision: revision.value,
        words: [...sending, ...unsavedWords],
        design: design.value,
      })
  }
  function builtOn(stored: Design): void {
    base = stored
    perhaps = []
  }
  function forget(): void {
    if (design.value) forgetUnsaved(place, design.value.id, windowId)
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
    keep()
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
    sending = unsavedWords.splice(0)
    save.value = { kind: 'saving' }
    perhaps = [...new Set([...perhaps, digest(sent)])].slice(-MOST_SENT)
    keep()
    const answer = await ask<{ revision: number }>(`/api/designs/${sent.id}`, {
      method: 'PUT',
      body: {
        baseRevision: revision.value,
        design: sent,
        words: sending.join('; ').slice(0, 2000),
      },
    })
    const words = sending.splice(0)
    if (answer.ok) return landed(answer.value.revision, sent)
    unsavedWords = [...words, ...unsavedWords]
    const { refusal } = answer
    if (refusal.status === 409) {
      // The answer to an earlier save may have been lost on its way: then what is stored is what
      // was sent, now or before.
      const there = await ask<Stored>(`/api/designs/${sent.id}`)
      if (there.ok && bases().includes(digest(there.value.design))) {
        if (digest(sent) === digest(there.value.design)) unsavedWords.splice(0, words.length)
        return landed(there.value.revision, there.value.design)
      }
      save.value = { kind: 'conflict', theirs: refusal.revision ?? 0 }
    } else if (refusal.status === 0) {
      save.value = { kind: 'offline' }
      plan(RETRY_AFTER_MS)
    } else save.value = { kind: 'refused', refusal }
  }

  function landed(number: number, stored: Design): void {
    revision.value = number
    builtOn(stored)
    save.value = { kind: 'saved' }
    if (!unsavedWords.length) return forget()
    keep()
    plan(SAVE_AFTER_MS)
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
    forget()
    take(answer.value)
    return answer.value.design.id
  }

  /** Answer to a conflict: the stored revision replaces what this window holds. */
  async function takeTheirs(): Promise<void> {
    const id = design.value?.id
    forget()
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
