/**
 * Findings about links: boards that cannot carry them, radios that get in each other's way,
 * messages too long for them.
 */
import { linkOf, linkTitle, loadOf, maybeFarSurfaceOn, farSurfaces } from '../design/find'
import {
  isDatagram,
  isLowEnergy,
  isPeerRadio,
  onChip,
  onNetwork,
  speaksBytes,
  speaksRoutes,
  isShell,
} from '../design/links/traits'
import { boardOf, frontOf } from '../design/pins'
import type { Design, Link, Message } from '../design/schema'
import type { BoardProfile } from '../boards/schema'
import { spokenValues } from '../design/values'
import { pollingLoad } from '../links/budget'
import { EVERYBODY } from '../design/links/peer'
import { codeUses } from '../messages/clashes'
import { matchRoute } from '../messages/routes'
import { longestText } from '../messages/sealing'
import { reportText, rows, codesSaid } from '../messages/table'
import { finding, onLink, type Finding, type Rule } from './finding'
import { isPulse } from '../design/outputs/traits'
import { classOf } from '../boards/classes'
import { speakersOn } from '../design/seats'
import { seconds } from '../units/format'
import { templateTroubles } from '../sides/board-page'

/** Low-energy Bluetooth needs a radio of the board's own. */
function lowEnergyTrouble(design: Design, link: Link, own: BoardProfile): Finding[] {
  if (classOf(own).lowEnergy) return []
  return [
    finding({
      ...onLink(design, link),
      code: 'no-low-energy',
      severity: 'stop',
      title: `${own.name} has no low-energy Bluetooth for ${linkTitle(design, link)}`,
      reason:
        'Serial modules speak classic Bluetooth. Low-energy Bluetooth needs a board with that radio: of two radios, of the newer single-core class, or a computer.',
    }),
  ]
}

/**
 * A link over the network needs a board that can reach it: the controller itself, or one in front.
 * Radios need boards that have them.
 */
const rightBoard: Rule = design =>
  design.links.flatMap((link): Finding[] => {
    const own = boardOf(design)
    const ahead = frontOf(design)
    if (isShell(link) && !classOf(ahead ?? own).shell)
      return [
        finding({
          ...onLink(design, link),
          code: 'no-shell',
          severity: 'stop',
          title: `Nobody can log in to ${(ahead ?? own).name} for ${linkTitle(design, link)}`,
          reason:
            'A console over a shell needs a board that runs one: a Linux board or a router. Way out: a board of that class, or a serial wire or HTTP in place of the console.',
          fixes: [],
        }),
      ]
    if (onNetwork(link) && !classOf(ahead ?? own).network) {
      return [
        finding({
          ...onLink(design, link),
          code: 'no-network',
          severity: 'stop',
          title: `${(ahead ?? own).name} cannot reach the network for ${linkTitle(design, link)}`,
          reason:
            'It has no radio and no network port. A small Wi-Fi board in front takes what comes over the network and passes it on over a serial wire.',
          fixes:
            design.front === null
              ? [
                  {
                    words: 'Put a network board in front',
                    edit: { type: 'setFront', front: {}, controllerId: link.controllerId },
                  },
                ]
              : [],
        }),
      ]
    }
    if (isLowEnergy(link)) return lowEnergyTrouble(design, link, own)
    if (onChip(link) && !classOf(own).bluetooth) {
      return [
        finding({
          ...onLink(design, link, '/radio'),
          code: 'no-bluetooth',
          severity: 'stop',
          title: `${own.name} has no Bluetooth of its own for ${linkTitle(design, link)}`,
          reason:
            'Only boards with two radios speak serial Bluetooth by themselves; any other takes a module on its serial port.',
          fixes: [
            {
              words: 'Take a module',
              edit: { type: 'setLink', linkId: link.id, patch: { radio: 'module' } },
            },
          ],
        }),
      ]
    }
    if (isPeerRadio(link) && !classOf(own).peerRadio) {
      return [
        finding({
          ...onLink(design, link),
          code: 'no-peer-radio',
          severity: 'stop',
          title: `${own.name} has no radio for ${linkTitle(design, link)}`,
          reason:
            'Radio from board to board needs a Wi-Fi board on both sides. Take such a board as the controller, or reach it over a serial wire.',
        }),
      ]
    }
    return []
  })

/** One radio has one channel: joined to a network it follows that of the router. */
const oneChannel: Rule = design =>
  design.links.flatMap(link => {
    const joined = isPeerRadio(link)
      ? design.links.find(l => onNetwork(l) && l.network === 'router')
      : undefined
    if (!isPeerRadio(link) || !joined || frontOf(design)) return []
    return [
      finding({
        ...onLink(design, link, '/channel'),
        code: 'channel-follows',
        severity: 'warn',
        title: `${linkTitle(design, link)} loses the board when the router changes its channel`,
        reason: `The board joins the house network for ${linkTitle(design, joined)}; its one radio is on the channel of the router then, and hears the other side on channel ${link.channel} only while both are the same. Way out: fix the router's channel at ${link.channel}, let the board make its own network there, or give the network to a board in front.`,
        fixes: [
          {
            words: 'The board makes its own network',
            edit: { type: 'setLink', linkId: joined.id, patch: { network: 'own' } },
          },
        ],
      }),
    ]
  })

/** Two sides with one hardware address hear each other's messages. */
const addressTwice: Rule = design =>
  design.links.flatMap((link, i) => {
    if (!isPeerRadio(link)) return []
    const first = design.links
      .slice(0, i)
      .find(
        l => isPeerRadio(l) && l.channel === link.channel && l.otherAddress === link.otherAddress,
      )
    if (link.boardAddress === link.otherAddress)
      return [
        finding({
          ...onLink(design, link, '/otherAddress'),
          code: 'address-twice',
          severity: 'stop',
          title: `Both sides of ${linkTitle(design, link)} have the same address`,
          reason: `${link.boardAddress} is the controller and the other side: it would send to itself.`,
        }),
      ]
    return first
      ? [
          finding({
            ...onLink(design, link, '/otherAddress'),
            code: 'address-twice',
            severity: 'stop',
            title: `${linkTitle(design, link)} and ${linkTitle(design, first)} have the same address`,
            reason: `Both are ${link.otherAddress === EVERYBODY ? 'sent to everybody' : link.otherAddress} on channel ${link.channel}: each hears what is meant for the other, and the controller cannot tell them apart.`,
          }),
        ]
      : []
  })

/** Longest payload of a datagram that needs no fragments on Ethernet: 1500 - 20 (IP) - 8 (UDP). */
const UDP_PAYLOAD = 1472

/** What is longer than the link takes is not sent at all. */
const tooLong: Rule = design =>
  design.links.flatMap((link): Finding[] => {
    if (!isDatagram(link)) return []
    const limit = isPeerRadio(link) ? link.payloadBytes : UDP_PAYLOAD
    const all = rows(design, link)
    const reports = all.map(({ load, message }) =>
      Math.max(0, ...spokenValues(load.output).map(v => reportText(link, load, message, v).length)),
    )
    const longest = all
      .map(({ load, message }, j) => ({
        load,
        bytes: Math.max(
          reports[j] ?? 0,
          ...codesSaid(link, load, message).map(code => longestText(link, code).length),
        ),
      }))
      .find(m => m.bytes > limit)
    if (longest)
      return [
        finding({
          ...onLink(design, link, '/messages'),
          loadId: longest.load.id,
          code: 'message-too-long',
          severity: 'stop',
          title: `A message of ${longest.load.name} does not fit ${linkTitle(design, link)}`,
          reason: `${longest.bytes} bytes, and the link takes ${limit} in one message. Way out: a shorter code, or a dialect with fewer bytes.`,
        }),
      ]
    const state = reports.reduce((a, b) => a + b, 0)
    return state > limit
      ? [
          finding({
            ...onLink(design, link, '/messages'),
            code: 'state-too-long',
            severity: 'stop',
            title: `The whole state does not fit one message of ${linkTitle(design, link)}`,
            reason: `${all.length} loads take ${state} bytes, and the link takes ${limit}. Way out: a dialect with fewer bytes, or fewer loads on this link.`,
          }),
        ]
      : []
  })

/**
 * A request that only reads may be made by anybody: a browser that looks ahead, a preview, a search
 * engine in the house.
 */
const readingActs: Rule = design =>
  design.links.flatMap(link => {
    if (speaksBytes(link) || link.method === 'post') return []
    const acting = link.messages
      .map(m => loadOf(design, m.loadId))
      .filter(l => isPulse(l.output) || l.wiring.dangers.length > 0)
    return acting.map(load =>
      finding({
        ...onLink(design, link, '/method'),
        loadId: load.id,
        code: 'get-acts',
        severity: 'warn',
        title: `Looking at an address sets off ${load.name}`,
        reason: `Its route is asked for by GET, which browsers repeat as they like: to look ahead, to reload, to restore a window. Shortest example: the browser is opened again in the morning and asks for the page it had last; ${load.name} is set off.`,
        fixes: [
          {
            words: 'Take POST for commands',
            edit: { type: 'setLink', linkId: link.id, patch: { method: 'post' } },
          },
        ],
      }),
    )
  })

/** What can hurt somebody is not switched into silence. */
const silentDangers: Rule = design =>
  design.links.flatMap(link =>
    (link.messages as Message[]).flatMap((m, j) => {
      const load = loadOf(design, m.loadId)
      const remote = maybeFarSurfaceOn(design, link.id)
      if (
        m.ack
        || m.change
        || !remote
        || remote.pollMs
        || !(load.wiring.dangers.length || load.wiring.load?.mains)
      )
        return []
      return [
        finding({
          ...onLink(design, link, `/messages/${j}`),
          loadId: load.id,
          code: 'danger-unanswered',
          severity: 'warn',
          title: `${remote.name} never learns whether ${load.name} obeyed`,
          reason:
            'It is commanded from where nobody may see it, and neither answered nor reported. A message that is lost looks like one that was obeyed.',
          fixes: [
            {
              words: 'Answer and report',
              edit: {
                type: 'setReport',
                linkId: link.id,
                loadId: load.id,
                ack: true,
                change: true,
              },
            },
          ],
        }),
      ]
    }),
  )

/** Places of the page of a board that nothing stands for. */
const pagePlaces: Rule = design =>
  design.links.flatMap((link): Finding[] => {
    if (!speaksRoutes(link) || !link.page) return []
    const wrong = templateTroubles(design, link, link.page.template)
    const [first] = wrong
    if (!first) return []
    return [
      finding({
        ...onLink(design, link, '/page/template'),
        code: 'page-places',
        severity: 'warn',
        title: `The page of ${linkTitle(design, link)} has ${wrong.length === 1 ? 'a place' : `${wrong.length} places`} that nothing fills`,
        reason: `${wrong.map(w => `${w.place} in line ${w.line}: ${w.why}`).join('; ')}. They are served as they stand.`,
      }),
    ]
  })

/** The board remembers numbers by link: what one sender used is a repeat from another. */
const numbersShared: Rule = design =>
  design.links.flatMap((link): Finding[] => {
    const speakers = speakersOn(design, link.id)
    if (!link.numbered || speakers.length < 2) return []
    return [
      finding({
        ...onLink(design, link, '/numbered'),
        code: 'numbers-shared',
        severity: 'warn',
        title: `${speakers.map(s => s.name).join(' and ')} number their commands on one link`,
        reason: `Each counts for itself. A command with a number that another of them used within ${seconds(link.numbered.windowMs)} is taken for a repeat: it is answered and does nothing. Bench and proof see a connection for each, where that cannot happen. Way out: a link for each, or commands without numbers.`,
        fixes: [
          {
            words: 'No numbers on this link',
            edit: { type: 'setLink', linkId: link.id, patch: { numbered: null } },
          },
        ],
      }),
    ]
  })

/**
 * Requests that a small board answers in a second beside its work: a figure of that class, to be
 * measured on the real one.
 */
const ANSWERS_PER_SECOND = 10
const askedTooOften: Rule = design => {
  const load = pollingLoad(design)
  const first = farSurfaces(design).find(s => s.pollMs && speaksRoutes(linkOf(design, s.linkId)))
  if (!load || !first || load.requestsPerSecond <= ANSWERS_PER_SECOND) return []
  const pollMs = Math.ceil((first.pollMs * load.requestsPerSecond) / ANSWERS_PER_SECOND / 100) * 100
  return [
    finding({
      code: 'asked-too-often',
      severity: 'warn',
      path: `/surfaces/${design.surfaces.indexOf(first)}/pollMs`,
      surfaceId: first.id,
      title: `The board is asked ${load.requestsPerSecond.toFixed(0)} times a second`,
      reason: `${load.reason}. A small board answers about ${ANSWERS_PER_SECOND} requests a second beside its work; presses wait behind them. Way out: ask less often, or report on change.`,
      fixes: [
        {
          words: `${first.name} asks every ${pollMs} ms`,
          edit: { type: 'setPoll', surfaceId: first.id, pollMs },
        },
      ],
    }),
  ]
}

/** Network names are taken letter by letter. */
export const networkNames: Rule = design =>
  design.networks.flatMap((name, i) => {
    const twin = design.networks.slice(0, i).find(n => n.toLowerCase() === name.toLowerCase())
    if (twin === undefined) return []
    return [
      finding({
        code: 'network-alike',
        severity: 'warn',
        path: `/networks/${i}`,
        title:
          twin === name
            ? `Network "${name}" is named twice`
            : `"${twin}" and "${name}" differ in letter case only`,
        reason:
          'A board joins a network only by its exact name. One of these is likely a slip; trying it costs the board several seconds at every start.',
        fixes: [
          {
            words: `Try "${twin}" only`,
            edit: { type: 'setNetworks', networks: design.networks.filter((_, j) => j !== i) },
          },
        ],
      }),
    ]
  })

/**
 * Reports that find no place in the queue are given up, and what they would have told is shown
 * wrongly until the next.
 */
const shortQueue: Rule = design =>
  design.links.flatMap(link => {
    const waiting = rows(design, link).length + link.readings.length
    if (link.queue === 0 || link.queue >= waiting) return []
    const carried = new Set(rows(design, link).map(r => r.load.id))
    const burst = design.scenes.find(
      s => s.sets.filter(x => carried.has(x.loadId)).length > link.queue + 1,
    )
    return [
      finding({
        ...onLink(design, link, '/queue'),
        code: 'queue-short',
        severity: burst ? 'stop' : 'warn',
        title: burst
          ? `The queue of ${link.name} is too short for "${burst.name}"`
          : `The queue of ${link.name} can give up a report`,
        reason: `${waiting} values are told on it, and ${link.queue === 1 ? 'one report waits' : `${link.queue} reports wait`} while one is on its way. ${burst ? `"${burst.name}" changes more at once` : 'When more change at once'}: the oldest report is given up, and whoever shows that load is wrong until it changes again.`,
        fixes: [
          {
            words: `A place for each value: ${waiting}`,
            edit: { type: 'setLink', linkId: link.id, patch: { queue: waiting } },
          },
        ],
      }),
    ]
  })

/** Wi-Fi and Bluetooth of one chip share one antenna. */
const twoRadios: Rule = design => {
  const chip = design.links.find(onChip)
  const wifi = design.links.find(l => (onNetwork(l) && !frontOf(design)) || isPeerRadio(l))
  return chip && wifi
    ? [
        finding({
          ...onLink(design, chip, isLowEnergy(chip) ? '' : '/radio'),
          code: 'two-radios',
          severity: 'warn',
          title: `${linkTitle(design, chip)} and ${linkTitle(design, wifi)} share one radio`,
          reason:
            'Bluetooth and Wi-Fi of one chip take turns at one antenna. It works on the bench and stalls for seconds when both are busy. Way out: a module or a second board for one of them; try both at once for an evening before you rely on it.',
        }),
      ]
    : []
}

/** Requests that browsers and the curious make without anybody asking for them. */
const UNPLANNED = [
  '/favicon.ico',
  '/apple-touch-icon.png',
  '/robots.txt',
  '/manifest.json',
  '/index.html',
  '/.well-known/appspecific',
  '/generate_204',
  '/hotspot-detect.html',
]

const unplannedRequests: Rule = design =>
  design.links.flatMap(link => {
    if (speaksBytes(link) || link.matching === 'exact') return []
    const uses = codeUses(design, link)
    return UNPLANNED.flatMap(request => {
      const use =
        uses[
          matchRoute(
            link.matching,
            uses.map(u => u.code),
            request,
          )
        ]
      if (!use || (use.loadId === null && !use.what.startsWith('scene'))) return []
      return [
        finding({
          ...onLink(design, link, '/matching'),
          code: 'route-unplanned',
          severity: 'stop',
          loadId: use.loadId,
          title: `"${request}" does: ${use.what}`,
          reason: `Browsers and networks ask for ${request} by themselves, and the board looks whether a request ${link.matching === 'contains' ? 'contains' : 'starts with'} a route: it takes it for "${use.code}".`,
          fixes: [
            {
              words: 'Match whole routes',
              edit: { type: 'setLink', linkId: link.id, patch: { matching: 'exact' } },
            },
          ],
        }),
      ]
    })
  })

/** One server on one board: of two equal routes the first is served, the other never. */
const equalRoutes: Rule = design =>
  design.links.flatMap((link, i) => {
    if (speaksBytes(link)) return []
    for (const first of design.links.slice(0, i)) {
      if (speaksBytes(first) || first.network !== link.network || first.address !== link.address)
        continue
      const known = new Set(codeUses(design, first).map(u => u.code))
      const twice = codeUses(design, link).find(u => u.loadId !== null && known.has(u.code))
      if (twice)
        return [
          finding({
            ...onLink(design, link, '/messages'),
            loadId: twice.loadId,
            code: 'routes-equal',
            severity: 'stop',
            title: `${linkTitle(design, first)} and ${linkTitle(design, link)} both have "${twice.code}"`,
            reason:
              'They are served by one board at one address, which cannot know which of them was meant: who may command, how it is answered and who hears of it is that of the first.',
          }),
        ]
    }
    return []
  })

export const LINK_RULES: readonly Rule[] = [
  pagePlaces,
  numbersShared,
  shortQueue,
  twoRadios,
  unplannedRequests,
  equalRoutes,
  rightBoard,
  oneChannel,
  addressTwice,
  tooLong,
  readingActs,
  silentDangers,
  askedTooOften,
]
