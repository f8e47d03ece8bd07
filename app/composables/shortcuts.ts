/**
 * Keyboard of a design: a letter opens a view, Ctrl+Z and Ctrl+Y turn edits back and forth, Ctrl+K
 * opens the palette.
 */
import { useEventListener } from '@vueuse/core'
import { VIEWS } from './views'

export interface ShortcutActions {
  go: (view: string) => void
  undo: () => void
  redo: () => void
  palette: () => void
  findings: () => void
  keys: () => void
}

export function useShortcuts(actions: ShortcutActions): void {
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    const ctrl = event.ctrlKey || event.metaKey
    const key = event.key.toLowerCase()
    if (ctrl && key === 'k') return did(event, actions.palette)
    if (takesLetters(event.target)) return
    if (ctrl && key === 'z') return did(event, event.shiftKey ? actions.redo : actions.undo)
    if (ctrl && key === 'y') return did(event, actions.redo)
    if (ctrl || event.altKey || event.defaultPrevented) return
    const view = VIEWS.find(v => v.key === key)
    if (view) did(event, () => actions.go(view.id))
    else if (key === 'i') did(event, actions.findings)
    else if (key === '?') did(event, actions.keys)
  })
}

/**
 * A letter pressed on a radio, a checkbox or a fader is no text: a view key there is a view key.
 */
export function takesLetters(target: EventTarget | null): boolean {
  return (
    isTyping(target) && !(target instanceof HTMLInputElement && WITHOUT_TEXT.includes(target.type))
  )
}
const WITHOUT_TEXT = ['radio', 'checkbox', 'button', 'submit', 'reset', 'range', 'color', 'file']

export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement
    && (target.isContentEditable
      || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)
      || target.closest('[role="listbox"],[role="menu"]') !== null)
  )
}

function did(event: KeyboardEvent, action: () => void): void {
  event.preventDefault()
  action()
}
