/**
 * The way of one command and of its report, hop by hop: phone, network board, wire, relay board,
 * and back.
 */
import { linkTitle, loadOf, maybeMessage } from '../design/find'
import { LINK_WORDS } from '../design/links/rows'
import { onNetwork, speaksRoutes } from '../design/links/traits'
import type { Design, Link } from '../design/schema'
import { valueWords } from '../design/values'
import { shownWire } from '../design/wire'
import { longestText } from '../messages/sealing'
import { codeOf } from '../messages/setpoints'
import { reportText } from '../messages/table'
import { exactWireMs, wireReason } from './timing'

/** `carries`: what crosses, as people read it. `means`: what it says there. */
export interface Hop {
  from: string
  to: string
  over: string
  carries: string
  means: string
  wireMs: number
  reason: string
}
export interface Chain {
  command: Hop[]
  report: Hop[]
}

/** null where the link has no code for that value. */
export function chainOf(design: Design, link: Link, loadId: string, value: string): Chain | null {
  const message = maybeMessage(link, loadId)
  const load = loadOf(design, loadId)
  const code = message ? codeOf(link, load.output, message, value) : ''
  if (!message || code === '') return null
  const controller = design.controllers.find(c => c.id === link.controllerId)?.name ?? 'controller'
  const surface = linkTitle(design, link)
  // A board in front takes what comes over the network, and passes it on as it is, a line each.
  const front =
    onNetwork(link) && design.front?.controllerId === link.controllerId ? design.front : null
  const bare = { ...design, front: null }
  const hop = (text: string, shown: string, means: string, down: boolean): Hop[] => {
    const far = front?.name ?? controller
    const first: Hop = {
      from: down ? far : surface,
      to: down ? surface : far,
      over: LINK_WORDS[link.kind],
      carries: shown,
      means,
      wireMs: exactWireMs(bare, link, text),
      reason: wireReason(bare, link, text),
    }
    if (!front) return [first]
    const second: Hop = {
      from: down ? controller : front.name,
      to: down ? front.name : controller,
      over: `serial wire, ${front.baud} baud`,
      carries: `${shownWire(link, text)}${speaksRoutes(link) ? '\\n' : ''}`,
      means,
      wireMs: exactWireMs(design, link, text) - first.wireMs,
      reason: wireReason(design, link, text),
    }
    return down ? [second, first] : [first, second]
  }
  const command = longestText(link, code)
  const report = reportText(link, load, message, value)
  return {
    command: hop(
      command,
      speaksRoutes(link) ? `${link.method.toUpperCase()} ${command}` : shownWire(link, command),
      `${load.name} ${valueWords(load.output, value)}`,
      false,
    ),
    report:
      report === '' || !(message.ack || message.change)
        ? []
        : hop(
            report,
            shownWire(link, report),
            `${load.name} is ${valueWords(load.output, value)}`,
            true,
          ),
  }
}
