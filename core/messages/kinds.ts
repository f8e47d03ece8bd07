/**
 * Another kind of output, or other levels, as one edit: with codes for the values that are new, on
 * every link.
 */
import { applyEdit, describeEdit, type Edit } from '../design/edits/edits'
import type { OutputPatch } from '../design/edits/loads'
import { loadOf, maybeMessage } from '../design/find'
import type { Design, Link, Message, Output } from '../design/schema'
import { nextCodes } from './assign'
import { numberCode } from './setpoints'

/** Makes a load one of another kind, with codes for its values on each link. */
export function kindEdit(design: Design, loadId: string, kind: Output['kind']): Edit {
  return withCodes(design, loadId, { type: 'setKind', loadId, kind })
}

/** Changes figures of an output, with codes for values that it has then. */
export function outputEdit(design: Design, loadId: string, patch: OutputPatch): Edit {
  return withCodes(design, loadId, { type: 'setOutput', loadId, patch })
}

/**
 * The edit alone where it leaves no value without a code; a refused one is left for the caller to
 * meet.
 */
function withCodes(design: Design, loadId: string, edit: Edit): Edit {
  const applied = applyEdit(design, edit)
  if (!applied.ok) return edit
  const codes = applied.design.links.flatMap((link): Edit[] => {
    const message = maybeMessage(link, loadId)
    const before = maybeMessage(design.links.find(l => l.id === link.id) as Link, loadId)
    if (
      !message
      || !before
      || numberCode(message) !== ''
      || Object.keys(message.codes).every(v => message.codes[v] !== '' || before.codes[v] === '')
    )
      return []
    const others = {
      ...link,
      messages: (link.messages as Message[]).filter(m => m.loadId !== loadId),
    } as Link
    return [
      {
        type: 'assignCodes',
        linkId: link.id,
        codes: { [loadId]: nextCodes(applied.design, others, loadOf(applied.design, loadId)) },
      },
    ]
  })
  return codes.length
    ? { type: 'together', edits: [edit, ...codes], words: describeEdit(design, edit) }
    : edit
}
