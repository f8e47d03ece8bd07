/** Surfaces: hand controls, panels, boxes; what they believe and how often they ask. */
import { defineEdit } from './define'
import { type BeliefPolicy, type Design, type LinkKind, NEW_PANEL } from '../schema'
import {
  boardNameOf,
  boxOf,
  buttonsFor,
  controllerOf,
  handOf,
  listed,
  move,
  NEW_BELIEF,
  wireUp,
  sceneOf,
} from './parts'
import { LINK_WORDS, linkRow, newLink } from '../links/rows'
import { farSurfaceOf, linkOf, surfaceOf } from '../find'
import { speakersOn } from '../seats'
import { freshId } from '../ids'

/** `onLink`: shares that link; else it gets one of its own, `over` a medium. */
interface NewSurface {
  name: string
  over: LinkKind
  controllerId?: string
  onLink?: string
}

function linkFor(d: Design, { name, over, controllerId, onLink }: NewSurface): string {
  if (onLink !== undefined) return linkOf(d, onLink).id
  const linkId = freshId(`${name} link`, 'link', d.links)
  wireUp(d, newLink(over, linkId, `${name} link`, controllerOf(d, controllerId).id))
  return linkId
}

function overWords(d: Design, { over, onLink }: NewSurface): string {
  return onLink === undefined ? `over ${LINK_WORDS[over]}` : `on ${linkOf(d, onLink).name}`
}

export const surfacesEdits = {
  addHandSurface: defineEdit<{ name: string }>({
    apply: (d, a) => {
      d.surfaces.push({
        kind: 'hand',
        id: freshId(a.name, 'hand', d.surfaces),
        name: a.name,
        inSight: true,
        controls: [],
      })
    },
    words: (_, a) => `Hand controls ${a.name} added`,
  }),
  addPanel: defineEdit<NewSurface>({
    apply: (d, a) => {
      const surfaceId = freshId(a.name, 'panel', d.surfaces)
      const linkId = linkFor(d, a)
      d.surfaces.push({
        kind: 'panel',
        id: surfaceId,
        name: a.name,
        linkId,
        pollMs: linkRow({ kind: a.over }).start.asksMs,
        belief: NEW_BELIEF,
        keys: [],
        ...NEW_PANEL,
      })
    },
    words: (d, a) => `Panel ${a.name} added ${overWords(d, a)}`,
  }),
  addPeer: defineEdit<NewSurface>({
    apply: (d, a) => {
      const surfaceId = freshId(a.name, 'box', d.surfaces)
      const linkId = linkFor(d, a)
      d.surfaces.push({
        kind: 'peer',
        id: surfaceId,
        name: a.name,
        linkId,
        shows: true,
        pollMs: linkRow({ kind: a.over }).start.asksMs,
        belief: NEW_BELIEF,
        boardId: null,
        controls: [],
        leastMs: 0,
        keys: [],
        scenes: [],
      })
    },
    words: (d, a) => `Box ${a.name} added ${overWords(d, a)}`,
  }),
  setPeer: defineEdit<{
    surfaceId: string
    patch: { shows?: boolean; scenes?: string[]; leastMs?: number }
  }>({
    apply: (d, a) => {
      Object.assign(boxOf(d, a.surfaceId), a.patch)
    },
    words(d, a) {
      const { name } = surfaceOf(d, a.surfaceId)
      if (a.patch.scenes)
        return `${name} asks for ${a.patch.scenes.map(id => sceneOf(d, id).name).join(', ') || 'no scene'}`
      if (a.patch.leastMs !== undefined)
        return `${name} sends ${a.patch.leastMs ? `every ${a.patch.leastMs} ms at most` : 'as often as it is asked'}`
      return `${name} ${a.patch.shows ? 'shows what it switches' : 'shows nothing'}`
    },
  }),
  /** `boardId`: a controller that is there. `board`: the class of a new one. */
  setBoxBoard: defineEdit<{ surfaceId: string; boardId?: string | null; board?: string }>({
    apply: (d, a) => {
      const box = boxOf(d, a.surfaceId)
      if (a.board !== undefined) {
        const id = freshId(box.name, 'board', d.controllers)
        d.controllers.push({
          id,
          name: box.name,
          board: a.board,
          bootMs: 600,
          fedBy: null,
          lamps: [],
          expanders: [],
          kept: [],
        })
        box.boardId = id
      } else box.boardId = a.boardId ?? null
      if (box.boardId === null) box.controls = []
      // What stood on it before anybody said what is inside becomes buttons.
      else if (!box.controls.length) buttonsFor(d, box)
    },
    words(d, a) {
      const { name } = surfaceOf(d, a.surfaceId)
      if (a.board !== undefined) return `${name} is a board of its own: ${boardNameOf(d, a.board)}`
      const board = d.controllers.find(c => c.id === a.boardId)
      return board ? `${name} is the board ${board.name}` : `What is inside ${name} is not drawn`
    },
  }),
  renameSurface: defineEdit<{ surfaceId: string; name: string }>({
    apply: (d, a) => {
      surfaceOf(d, a.surfaceId).name = a.name
    },
    words: (d, a) => `Surface ${surfaceOf(d, a.surfaceId).name} renamed to ${a.name}`,
  }),
  moveSurface: defineEdit<{ surfaceId: string; to: number }>({
    apply: (d, a) => move(d.surfaces, a.surfaceId, a.to),
    words: (d, a) => `Surface ${surfaceOf(d, a.surfaceId).name} moved to column ${a.to + 1}`,
  }),
  removeSurface: defineEdit<{ surfaceId: string }>({
    apply: (d, a) => {
      const surface = surfaceOf(d, a.surfaceId)
      d.surfaces = d.surfaces.filter(s => s.id !== a.surfaceId)
      if (surface.kind !== 'hand' && !speakersOn(d, surface.linkId).length)
        d.links = d.links.filter(l => l.id !== surface.linkId)
    },
    words(d, a) {
      const surface = surfaceOf(d, a.surfaceId)
      const alone = surface.kind !== 'hand' && speakersOn(d, surface.linkId).length === 1
      return `Surface ${surface.name} removed${alone ? ' with its link' : ''}`
    },
  }),
  setInSight: defineEdit<{ surfaceId: string; inSight: boolean }>({
    apply: (d, a) => {
      handOf(d, a.surfaceId).inSight = a.inSight
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} ${a.inSight ? 'in sight of' : 'out of sight of'} the loads`,
  }),
  setPoll: defineEdit<{ surfaceId: string; pollMs: number }>({
    apply: (d, a) => {
      farSurfaceOf(d, a.surfaceId).pollMs = a.pollMs
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} ${a.pollMs ? `asks every ${a.pollMs} ms` : 'never asks'}`,
  }),
  setBelief: defineEdit<{ surfaceId: string; patch: Partial<BeliefPolicy> }>({
    apply: (d, a) => {
      Object.assign(farSurfaceOf(d, a.surfaceId).belief, a.patch)
    },
    words: (d, a) => `Belief of ${surfaceOf(d, a.surfaceId).name}: ${listed(a.patch)}`,
  }),
}
