/**
 * A box as a part of its own: its board, what is wired to it, and the one link over which it asks
 * another board for its loads (engine/box.cpp).
 */
import { designOfBox } from '../../controller/box'
import type { Program, ProgramLink } from '../../controller/program'
import { asksOfTarget, boxesOf } from '../../design/boxes'
import { lampsOf, linkOf } from '../../design/find'
import { whyNotFound } from '../../design/links/host'
import {
  isLowEnergy,
  isPeerRadio,
  isShell,
  isSigned,
  onNetwork,
  speaksRoutes,
  structureOn,
} from '../../design/links/traits'
import { derivedFrom, wholeOf } from '../../design/part'
import { classOf } from '../../boards/classes'
import { boardOf, serialPins } from '../../design/pins'
import type { Design, Lamp, Link, Load, PeerSurface, Sensor } from '../../design/schema'
import { asksByWay, isKnob, isReceiver } from '../../design/sensors/traits'
import type { Target } from '../../design/targets'
import { isInFront } from './front'
import { NUMBER_LENGTH } from '../../messages/numbers'
import { longestText } from '../../messages/sealing'
import { startsTimers, TIME_LENGTH } from '../../messages/times'
import { compileSurface, type SurfaceProgram } from '../../surfaces/surface'

/** null where its board is none of the design. `whole`: the design with all its boards. */
export function boxPart(whole: Design, box: PeerSurface): Design | null {
  const asks = designOfBox(whole, box)
  if (!asks) return null
  const design = sharesBoard(whole, box) ? besideOthers(whole, box, asks) : asks
  return derivedFrom(whole, {
    ...design,
    name: whole.name,
    links: [itsEnd(linkOf(whole, box.linkId), design)],
  })
}

/** A link as its other side has it. */
function itsEnd(link: Link, design: Design): Link {
  const port = serialPins(boardOf(design))
  const pins = port ? { receivePin: port.receive, sendPin: port.send } : {}
  return {
    ...link,
    readings: [],
    // How the board that is asked tells of itself.
    ...{ everyMs: 0, leastMs: 0, queue: 0, onConnect: false },
    ...('statusPin' in link ? { statusPin: null } : {}),
    ...('receivePin' in link ? pins : {}),
    ...(speaksRoutes(link) ? { page: null } : {}),
    ...(isPeerRadio(link)
      ? { boardAddress: link.otherAddress, otherAddress: link.boardAddress }
      : {}),
  } as unknown as Link
}

/** Whether its board has loads of its own, or asks over other links too: an engine for each. */
export function sharesBoard(whole: Design, { boardId }: PeerSurface): boolean {
  return (
    whole.loads.some(l => l.controllerId === boardId) || boxesOf(whole, boardId ?? '').length > 1
  )
}

/** Whether a sensor does anything to loads of a design. `asks`: whether a target is one of them. */
export function isActing(
  sensor: Sensor,
  { loads, rules }: Design,
  asks: (target: Target) => boolean,
): boolean {
  return (
    rules.some(r => r.sensorId === sensor.id)
    || (isKnob(sensor) && loads.some(l => l.id === sensor.loadId))
    || (isReceiver(sensor) && sensor.keys.some(asks))
    || (asksByWay(sensor) && sensor.ways.some(asks))
  )
}

/** Whether its engine is the first of its board, which has whatever there is one of. */
function isFirst(whole: Design, box: PeerSurface): boolean {
  const boardId = box.boardId ?? ''
  const [first] = boxesOf(whole, boardId)
  return first === box && !whole.loads.some(l => l.controllerId === boardId)
}

/** What a box needs of a board that does something else too: nothing is read or lit for nothing. */
function besideOthers(whole: Design, box: PeerSurface, design: Design): Design {
  const ids = new Set(design.loads.map(l => l.id))
  const asks = (target: Target) =>
    'sceneId' in target ? asksOfTarget(whole, box, target).length > 0 : ids.has(target.loadId)
  const rules = design.rules.filter(r =>
    r.sceneId === null ? r.sets.length > 0 : asks({ sceneId: r.sceneId }),
  )
  const first = isFirst(whole, box)
  // On a computer each engine is a program of its own, and a line belongs to one of them.
  const lights = first || classOf(boardOf(design)).program !== 'linux'
  return {
    ...design,
    rules,
    sensors: design.sensors.filter(s => isActing(s, { ...design, rules }, asks)),
    controllers: design.controllers.map(c => ({
      ...c,
      expanders: first ? c.expanders : [],
      lamps: lights ? c.lamps.filter(l => l.shows !== 'link' || l.linkId === box.linkId) : [],
    })),
  }
}

/** Whether a part is that of a box: its link is one of another board. */
export function isBoxPart({ controllers, links }: Design): boolean {
  return links.length === 1 && links[0]?.controllerId !== controllers[0]?.id
}

/** Lamps of its board that show what a box does, and that its program does not light. */
export function lampsLeftOut(part: Design): Lamp[] {
  if (!isBoxPart(part)) return []
  const [link] = part.links
  const { lamps = [] } = wholeOf(part).controllers.find(c => c.id === part.controllers[0]?.id) ?? {}
  const there = new Set(lampsOf(part).map(l => l.id))
  const showsIt = (l: Lamp) =>
    l.shows === 'waiting' || (l.shows === 'link' && l.linkId === link?.id)
  return lamps.filter(l => showsIt(l) && !there.has(l.id))
}

/** What a board is in the whole. */
export function roleOf(part: Design): string {
  if (isInFront(part)) return 'board in front'
  return isBoxPart(part) ? 'box' : 'controller'
}

/** Loads that are on lines of the board itself: neither mirrored from behind nor asked for. */
export function wiredLoads(part: Design): readonly Load[] {
  return isInFront(part) || isBoxPart(part) ? [] : part.loads
}

/** The box that a part is of, and the link as the board that is asked has it. */
function boxOf(part: Design): { box: PeerSurface; link: Link } | null {
  const [controller] = part.controllers
  const [link] = part.links
  if (!controller || !link || !isBoxPart(part)) return null
  const whole = wholeOf(part)
  const box = boxesOf(whole, controller.id).find(s => s.linkId === link.id)
  return box ? { box, link: linkOf(whole, link.id) } : null
}

/** What the surface of a box says and hears; null where a part is of no box. */
export function speechOfBox(part: Design): SurfaceProgram | null {
  const of = boxOf(part)
  return of && compileSurface({ ...part, links: [of.link], surfaces: [of.box] }, of.box.id)
}

/** Why no program is made for a box, in words; null where one can be. */
export function boxLacks(whole: Design, box: PeerSurface): string | null {
  const link = linkOf(whole, box.linkId)
  const { boardId } = box
  if (boardId === null)
    return 'What is inside of it is not drawn: drawn as a board of this design, it gets one.'
  if (isLowEnergy(link) || isShell(link))
    return `Programs of boxes speak over wires, serial Bluetooth, radio from board to board, datagrams and HTTP; ${link.name} is something else.`
  const why = onNetwork(link) ? whyNotFound(link) : null
  return why && `It has to know where the board is that it asks: ${why}.`
}

/** The program of a box: of its link it hears reports, by the words of its surface. */
export function heardByBox(program: Program): Program {
  const speech = speechOfBox(program.design)
  const [link] = program.links
  if (!speech || !link) return program
  const meanings: ProgramLink['meanings'] = new Map(
    [...speech.meanings].map(([text, { load, value }]) => [text, { kind: 'set', load, value }]),
  )
  const heard: ProgramLink = {
    ...link,
    meanings,
    numbers: [...speech.numbers],
    reader: speech.reader,
    messages: link.messages.map(() => undefined),
    error: speech.refusal,
    timed: false,
    streams: speech.ignoresReplies,
    senses: onNetwork(link.link),
    answersAskers: false,
  }
  return { ...program, links: [heard], ends: [] }
}

/** The longest that it says, characters: with a time, a number and what proves it. */
export function longestSaid({ link, messages, scenes, ask, started }: SurfaceProgram): number {
  const codes = [
    ...messages.flatMap(m => (m ? Object.values(m.codes) : [])),
    ...scenes.map(s => s.code),
  ]
  const behind = (startsTimers(link) ? TIME_LENGTH : 0) + (link.numbered ? NUMBER_LENGTH : 0)
  // A frame may be stuffed at each of its bytes.
  const stuffed = structureOn(link) && isSigned(link.auth) ? 2 : 1
  const commands = codes.map(code => stuffed * longestText(link, code ?? '').length + behind)
  return Math.max(0, ask.length, started.length, ...commands)
}
