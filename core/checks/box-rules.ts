/** Boxes that are boards of the design: radios that they lack, and what they ask in the dark. */
import { classOf, type ClassFacts } from '../boards/classes'
import type { Edit } from '../design/edits/edits'
import { relativeCode } from '../messages/assign'
import { linkOf, loadOf, maybeMessage } from '../design/find'
import { partOf, wholeOf } from '../design/part'
import { boardOf } from '../design/pins'
import type { Design, Link, Message, PeerSurface } from '../design/schema'
import { asksByWay, isKnob } from '../design/sensors/traits'
import {
  isDatagram,
  isLowEnergy,
  isPeerRadio,
  isShell,
  onChip,
  onNetwork,
} from '../design/links/traits'
import { relativeOf } from '../design/values'
import { finding, type Rule } from './finding'

/** Boxes on links of this board that are boards themselves. */
function boxesOn(design: Design): { box: PeerSurface; link: Link; path: string }[] {
  return design.surfaces.flatMap((box, i) =>
    box.kind === 'peer' && box.boardId !== null
      ? [{ box, link: linkOf(design, box.linkId), path: `/surfaces/${i}` }]
      : [],
  )
}

/** What a board needs to speak on a link by itself, in words; null where it has it. */
function radioLacking(link: Link, facts: ClassFacts): string | null {
  if (isShell(link)) return facts.shell ? null : 'cannot log in to a shell'
  if (onNetwork(link)) return facts.network ? null : 'cannot reach the network'
  if (isPeerRadio(link)) return facts.peerRadio ? null : 'has no radio'
  if (isLowEnergy(link)) return facts.lowEnergy ? null : 'has no low-energy Bluetooth'
  return onChip(link) && !facts.bluetooth ? 'has no Bluetooth of its own' : null
}

const boxRadio: Rule = design =>
  boxesOn(design).flatMap(({ box, link, path }) => {
    const board = boardOf(partOf(wholeOf(design), box.boardId ?? ''))
    const lacks = radioLacking(link, classOf(board))
    if (lacks === null) return []
    return [
      finding({
        path: `${path}/boardId`,
        code: 'box-no-radio',
        severity: 'stop',
        surfaceId: box.id,
        title: `The board of ${box.name} ${lacks} for ${link.name}`,
        reason: `It is: ${board.name}. Both ends of a link have to speak it. Take a board that does, or join the two boards by a serial wire.`,
      }),
    ]
  })

/** Loads that something on a box turns step by step, with the name of it. */
function stepped(design: Design, box: PeerSurface): Map<string, string> {
  const found = new Map<string, string>()
  for (const s of wholeOf(design).sensors) {
    if (s.controllerId !== box.boardId) continue
    if (isKnob(s)) found.set(s.loadId, s.name)
    if (asksByWay(s))
      for (const way of s.ways)
        if ('loadId' in way && (way.asks === 'up' || way.asks === 'down'))
          found.set(way.loadId, s.name)
  }
  return found
}

/** Edits that give a load codes for a step up and down. */
function stepCodes(design: Design, link: Link, loadId: string): Edit[] {
  const edits: Edit[] = []
  let next = design
  for (const which of ['up', 'down'] as const) {
    const code = relativeCode(next, linkOf(next, link.id), loadOf(next, loadId), which)
    if (code === '') return []
    edits.push({ type: 'renameCode', linkId: link.id, loadId, which, code })
    next = withCode(next, link.id, loadId, which, code)
  }
  return edits
}

/** The next code has to differ from the one before. */
function withCode(d: Design, linkId: string, loadId: string, which: string, code: string): Design {
  return {
    ...d,
    links: d.links.map(l =>
      l.id === linkId
        ? ({
            ...l,
            messages: (l.messages as Message[]).map(m =>
              m.loadId === loadId ? { ...m, codes: { ...m.codes, [which]: code } } : m,
            ),
          } as Link)
        : l,
    ),
  }
}

/** From what a box believes a step leads elsewhere than from what is so. */
const stepsFromBelief: Rule = design =>
  boxesOn(design).flatMap(({ box, link }) =>
    [...stepped(design, box)].flatMap(([loadId, name]) => {
      const load = design.loads.find(l => l.id === loadId)
      const message = load && maybeMessage(link, loadId)
      if (!load || !message || (message.codes.up && message.codes.down)) return []
      if (!relativeOf(load.output).includes('up')) return []
      const at = design.links.indexOf(link)
      const edits = stepCodes(design, link, loadId)
      return [
        finding({
          path: `/links/${at}/messages/${(link.messages as object[]).indexOf(message)}/codes`,
          code: 'steps-from-belief',
          severity: 'note',
          loadId,
          surfaceId: box.id,
          title: `${name} steps ${load.name} from what ${box.name} believes`,
          reason: `${link.name} has no codes for a step up and down, so that each step is sent as the value that it comes to. After a change that it did not hear of it starts from the wrong place${isDatagram(link) ? ', and values sent shortly after one another may overtake each other' : ''}. With codes for steps it says what was turned.`,
          fixes:
            edits.length === 2
              ? [
                  {
                    words: 'Codes for steps',
                    edit: {
                      type: 'together',
                      edits,
                      words: `${load.name} on ${link.name} takes steps`,
                    },
                  },
                ]
              : [],
        }),
      ]
    }),
  )

/** Peer radio is slow to send more than some ten messages a second, and its order is not kept. */
const boxHaste: Rule = design =>
  boxesOn(design).flatMap(({ box, path }) =>
    box.leastMs > 0 || !stepped(design, box).size
      ? []
      : [
          finding({
            path: `${path}/leastMs`,
            code: 'box-unlimited',
            severity: 'note',
            surfaceId: box.id,
            title: `Nothing limits how often ${box.name} sends`,
            reason:
              'A knob that is turned fast makes a hundred steps a second, each a message of its own. With a least time between two messages steps add up, and where it ends is always sent; about ten a second look smooth.',
            fixes: [
              {
                words: 'At most ten a second',
                edit: { type: 'setPeer', surfaceId: box.id, patch: { leastMs: 100 } },
              },
            ],
          }),
        ],
  )

export const BOX_RULES: readonly Rule[] = [boxRadio, stepsFromBelief, boxHaste]
