/**
 * Findings about where boards are in their networks: addresses that nobody finds, that several
 * boards have, or that a board does not have which opens its network itself.
 */
import {
  addressBytes,
  atHost,
  freeAddress,
  hostOf,
  OWN_ADDRESS,
  whyNotFound,
} from '../design/links/host'
import { onNetwork, throughRouter, type LinkOnNetwork } from '../design/links/traits'
import { classOf } from '../boards/classes'
import { farSurfaces, linkTitle } from '../design/find'
import { partOf } from '../design/part'
import { boardOf, frontOf } from '../design/pins'
import type { Design, Link } from '../design/schema'
import { finding, onLink, type Fix, type Rule } from './finding'

const boardName = (design: Design, { controllerId }: Link): string =>
  design.controllers.find(c => c.id === controllerId)?.name ?? ''

/** Pages ask at the address of their link; why a box finds nobody stands where its program does. */
const nowhere: Rule = design =>
  design.links.flatMap(link => {
    const why = onNetwork(link) ? whyNotFound(link) : null
    if (why === null || !farSurfaces(design).some(s => s.kind === 'panel' && s.linkId === link.id))
      return []
    return [
      finding({
        ...onLink(design, link, '/address'),
        code: 'address-nowhere',
        severity: 'warn',
        title: `No page finds the board over ${linkTitle(design, link)}`,
        reason: `It asks where the design says that the board is, but ${why}.`,
      }),
    ]
  })

/** A board in a network, as it is asked there. */
interface Place {
  link: LinkOnNetwork
  host: string
}
function routed(links: readonly Link[]): Place[] {
  return links.flatMap(link =>
    onNetwork(link) && throughRouter(link)
      ? [{ link, host: hostOf(link.address).toLowerCase() }]
      : [],
  )
}

/** Whoever asks there reaches one of them, and never the other. */
const shared: Rule = design =>
  routed(design.links).flatMap(({ link, host }, i, all) => {
    const before = all.slice(0, i).filter(p => p.host === host)
    const other = before.find(p => p.link.controllerId !== link.controllerId)
    // Of several links of one board the first is told.
    if (!other || before.some(p => p.link.controllerId === link.controllerId)) return []
    const [first, second] = [other.link, link].map(l => boardName(design, l))
    return [
      finding({
        ...onLink(design, link, '/address'),
        code: 'address-shared',
        severity: 'warn',
        title: `${first} and ${second} are both at ${host}`,
        reason: `In the network of the house an address belongs to one board: what is meant for ${second} reaches ${first}, which may take it for its own. Give each its own, and have the router reserve it.`,
        fixes: [movedTo(freeAddress(design.links), all, host, link.controllerId, second ?? '')],
      }),
    ]
  })

function movedTo(
  free: string,
  all: readonly Place[],
  host: string,
  controllerId: string,
  name: string,
): Fix {
  const words = `${name} at ${free}`
  const edits = all
    .filter(p => p.host === host && p.link.controllerId === controllerId)
    .map(({ link }) => ({
      type: 'setLink' as const,
      linkId: link.id,
      patch: { address: atHost(link.address, free) },
    }))
  return { words, edit: { type: 'together', edits, words } }
}

/** The environment of boards with Wi-Fi gives them one address in a network of their own. */
const ownAddress: Rule = design =>
  design.links.flatMap(link => {
    if (!onNetwork(link) || throughRouter(link) || !opensItself(design, link)) return []
    const host = hostOf(link.address)
    if (addressBytes(host) === null || host === OWN_ADDRESS) return []
    return [
      finding({
        ...onLink(design, link, '/address'),
        code: 'address-own',
        severity: 'warn',
        title: `In its own network ${boardName(design, link)} is not at ${host}`,
        reason: `A board of this class that opens a network is ${OWN_ADDRESS} there; nobody answers at ${host}.`,
        fixes: [
          {
            words: `At ${OWN_ADDRESS}`,
            edit: {
              type: 'setLink',
              linkId: link.id,
              patch: { address: atHost(link.address, OWN_ADDRESS) },
            },
          },
        ],
      }),
    ]
  })

function opensItself(design: Design, link: Link): boolean {
  const part = partOf(design, link.controllerId)
  return (classOf(frontOf(part) ?? boardOf(part)).program ?? '').startsWith('wifi')
}

/** They look at all boards of a design. */
export const ADDRESS_RULES: readonly Rule[] = [nowhere, shared, ownAddress]
