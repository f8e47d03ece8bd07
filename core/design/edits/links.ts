/** Links, and the board that stands in front of a controller. */
import { defineEdit, type PatchOf } from './define'
import { controllerOf, EditRefused, listed, nextPin, patch } from './parts'
import type { Front, Link } from '../schema'
import { linkOf } from '../find'

/** Anything of a link but what it is, what hangs on it and whose it is. */
type LinkPatch = PatchOf<
  Link,
  'kind' | 'id' | 'messages' | 'readings' | 'controllerId' | 'timing' | 'scenes'
> & { timing?: Partial<Link['timing']> }

export const linksEdits = {
  setLink: defineEdit<{ linkId: string; patch: LinkPatch }>({
    apply: (d, a) => {
      const { timing, ...rest } = a.patch
      const link = linkOf(d, a.linkId)
      patch(link, rest)
      if (timing) Object.assign(link.timing, timing)
    },
    words: (d, a) => `Link ${linkOf(d, a.linkId).name}: ${listed(a.patch)}`,
  }),
  setFront: defineEdit<{ front: Partial<Front> | null; controllerId?: string }>({
    apply: (d, a) => {
      if (a.front === null) d.front = null
      else if (d.front) {
        if (a.controllerId !== undefined && a.controllerId !== d.front.controllerId)
          throw new EditRefused(
            `${d.front.name} stands in front of ${controllerOf(d, d.front.controllerId).name} already; a design has one such board`,
          )
        Object.assign(d.front, a.front)
      } else {
        const { id: controllerId } = controllerOf(d, a.controllerId)
        const front: Front = {
          controllerId,
          board: 'board-wifi-small',
          name: 'Network board',
          baud: 9600,
          receivePin: 99,
          sendPin: 99,
          shift: 'divider',
          ...a.front,
        }
        d.front = front
        if (a.front.receivePin === undefined)
          d.front.receivePin = nextPin(d, controllerId, { as: 'wire-in' })
        if (a.front.sendPin === undefined)
          d.front.sendPin = nextPin(d, controllerId, { as: 'wire-out' })
      }
    },
    words(d, a) {
      if (a.front === null) return `${d.front?.name ?? 'The board in front'} taken away`
      if (!d.front) return `${a.front.name ?? 'A network board'} put in front`
      return `${d.front.name}: ${listed(a.front)}`
    },
  }),
}
