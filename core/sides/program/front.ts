/**
 * The board in front as a part of its own: links of the network, and the wire to the board behind,
 * whose loads it only tells of (engine/mirrors.cpp).
 */
import type { ProgramLink } from '../../controller/program'
import { flaggedOn } from '../../messages/started'
import { restartCode, rows } from '../../messages/table'
import { lampsOf } from '../../design/find'
import { onNetwork } from '../../design/links/traits'
import { isFollower } from '../../design/outputs/traits'
import { derivedFrom } from '../../design/part'
import { frontOf, serialPins } from '../../design/pins'
import type { Design, Lamp, Surface } from '../../design/schema'
import { FRONT_WIRE, frontWire } from '../front-wire'

/** null without a board in front, or one that has no serial port. */
export function frontPart(part: Design): Design | null {
  const { front } = part
  const board = frontOf(part)
  const wire = frontWire(part)
  const port = board && serialPins(board)
  const [controller] = part.controllers
  if (!front || !wire || !port || !controller) return null
  const links = part.links.filter(onNetwork)
  const there = new Set(links.map(l => l.id))
  const told = new Set(links.flatMap(l => l.readings.map(r => r.sensorId)))
  return derivedFrom(part, {
    ...part,
    controllers: [
      {
        ...controller,
        name: front.name,
        board: front.board,
        lamps: controller.lamps.filter(lamp => isTold(part, lamp)),
        expanders: [],
      },
    ],
    front: null,
    links: [...links, { ...wire, receivePin: port.receive, sendPin: port.send }] as Design['links'],
    sensors: part.sensors.filter(s => told.has(s.id)),
    rules: [],
    surfaces: part.surfaces.filter((s: Surface) => s.kind !== 'hand' && there.has(s.linkId)),
  })
}

/**
 * Whether a lamp of a board behind another shows what only that one knows: the network, or a link
 * over it. It is told over the wire, again and again, and goes dark when nothing is told.
 */
export function isTold({ front, links }: Design, lamp: Lamp): boolean {
  if (front === null || lamp.shows === 'waiting') return false
  return lamp.shows === 'network' || !links.some(l => l.id === lamp.linkId && !onNetwork(l))
}

/** The line that a lamp behind is told with; no load is called so. */
export const lampLine = ({ id }: Lamp, on: boolean): string => `!${id} ${Number(on)}`

/** Lamps that the wire to the board behind tells of, on either side: which of its board, and it. */
export function lampsOnWire(design: Design): { lamp: Lamp; nth: number }[] {
  const inFront = isInFront(design)
  return lampsOf(design).flatMap((lamp, nth) =>
    inFront || isTold(design, lamp) ? [{ lamp, nth }] : [],
  )
}

/** Whether a part is that of a board in front. */
export function isInFront({ front, links }: Design): boolean {
  return front === null && links.some(l => l.id === FRONT_WIRE)
}

/**
 * What of the network of a part its board in front does not pass on, in words. What a sender that
 * has just started says of a level or a choice moves nothing, and needs nobody behind; a knob that
 * is imitated would have to take it as its position there.
 */
export function frontLacks(part: Design): { path: string; words: string }[] {
  return part.links.flatMap((link, i) => {
    if (!onNetwork(link) || (restartCode(link) === '' && flaggedOn(link, { pollMs: 0 }) === null))
      return []
    return rows(part, link)
      .filter(({ load }) => isFollower(load.output))
      .map(({ load }) => ({
        path: `/links/${i}`,
        words: `where ${load.name} stands for a sender on ${link.name} that has just started`,
      }))
  })
}

/** The longest line of the board behind: reports and the answer to "who is there". */
export function longestBehind({ messages, reader }: ProgramLink, hello: string): number {
  const told = messages.flatMap(m => (m ? [...m.reports.values()].map(t => t.length) : []))
  return Math.max(reader.longest, hello.length + 10, ...told) + NUMBER_ROOM
}
const NUMBER_ROOM = 8
