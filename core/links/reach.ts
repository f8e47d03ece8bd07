/** Which panel can use which link from where, and what to do where it cannot. */
import { linkOf, remotes } from '../design/find'
import type { Design, Link } from '../design/schema'
import { onNetwork } from '../design/links'
import { boardOf, frontOf } from '../design/pins'

export interface Reach {
  panel: string
  surfaceId: string
  from: string
  works: 'yes' | 'no' | 'sometimes'
  why: string
  instead: string
}

/**
 * From the places where a page or box can be; facts of browsers as of their standards (Web Serial,
 * mixed content, private network access).
 */
export function reach(design: Design): Reach[] {
  const shared = sharedRadio(design)
  return remotes(design).flatMap((surface): Reach[] => {
    const link = linkOf(design, surface.linkId)
    const row = (from: string, works: Reach['works'], why: string, instead = ''): Reach => ({
      panel: surface.name,
      surfaceId: surface.id,
      from,
      works,
      why,
      instead,
    })
    return surface.kind === 'peer' ? boxReach(link, row) : panelReach(link, row, shared)
  })
}

type Row = (from: string, works: Reach['works'], why: string, instead?: string) => Reach

function panelReach(link: Link, row: Row, shared: string): Reach[] {
  const terminal =
    'use a serial terminal app with the codes of the message sheet, or a panel over HTTP'
  switch (link.kind) {
    case 'http': {
      const net =
        link.network === 'own'
          ? "the phone must be on the board's own network, and has no internet meanwhile"
          : 'phone and board must be on the same house network'
      return [
        row('page kept as a file', 'yes', `it asks the address in the design; ${net}`),
        row('page from the board or a stand-in', 'yes', net),
        row(
          'page from a secure site',
          'no',
          'a page that came by https may not ask an http address inside the house',
          'keep the page as a file, or let the board give it',
        ),
        ...(link.network === 'router'
          ? [
              row(
                'guest network of the house',
                'no',
                'guest networks keep their devices apart from the others',
                'join the house network itself',
              ),
            ]
          : []),
        ...(shared
          ? [
              row(
                'while Bluetooth is in use',
                'sometimes',
                shared,
                'take a serial module of its own for Bluetooth, or a board in front for the network',
              ),
            ]
          : []),
      ]
    }
    case 'bluetooth-serial':
      return [
        row(
          'desktop browser, page as a file',
          'sometimes',
          'browsers that offer serial ports to pages reach a paired module; others offer none',
          'use the stand-in, or a browser with Web Serial',
        ),
        row('phone browser', 'no', 'phone browsers offer no serial Bluetooth to pages', terminal),
        row(
          'a second phone meanwhile',
          'no',
          'serial Bluetooth serves one phone at a time; the second is refused until the first lets go',
          'disconnect the first, or add a panel over HTTP',
        ),
        ...(shared
          ? [
              row(
                'while the network is in use',
                'sometimes',
                shared,
                'take a serial module of its own for Bluetooth',
              ),
            ]
          : []),
      ]
    case 'wire':
      return [
        row(
          'desktop browser, page as a file',
          'sometimes',
          'browsers that offer serial ports to pages reach the cable; others offer none',
          'use a browser with Web Serial, or any serial terminal',
        ),
        row(
          'phone browser',
          'no',
          'phone browsers offer no serial ports to pages',
          'add a panel over HTTP',
        ),
        row(
          'two programs at once',
          'no',
          'a serial port belongs to the program that opened it first',
          'close the terminal before the page connects',
        ),
      ]
    case 'udp':
      return [
        row(
          'any browser',
          'no',
          'pages send no datagrams',
          'take a panel over HTTP, a box, or a program on the computer',
        ),
      ]
    case 'peer':
      return [
        row(
          'any browser',
          'no',
          'pages speak no radio from board to board',
          'take a box, or a panel over HTTP',
        ),
      ]
  }
}

function boxReach(link: Link, row: Row): Reach[] {
  switch (link.kind) {
    case 'peer':
      return [
        row(
          'within the house',
          'yes',
          `both radios are on channel ${link.channel}; walls of stone and metal shorten the reach`,
        ),
        row('without router or internet', 'yes', 'board speaks to board, no network takes part'),
        row(
          'while the board joins a router',
          'sometimes',
          'its one radio follows the channel of the router',
          'fix the channel of the router, or let the board make its own network',
        ),
      ]
    case 'http':
    case 'udp':
      return [
        row(
          link.network === 'own' ? 'network of the board' : 'house network',
          'yes',
          link.network === 'own'
            ? 'the box joins the board, as a phone does'
            : 'box and board are on the same network',
        ),
        row(
          'guest network of the house',
          link.network === 'own' ? 'yes' : 'no',
          link.network === 'own'
            ? 'the router takes no part'
            : 'guest networks keep their devices apart from the others',
          link.network === 'own' ? '' : 'join the house network itself',
        ),
      ]
    case 'wire':
      return [
        row(
          'at the end of the wire',
          'yes',
          'a few metres of wire with a common ground; beyond that, or beside motors, take a line driver',
        ),
      ]
    case 'bluetooth-serial':
      return [
        row(
          'paired with the board',
          'yes',
          'while it is connected no phone can be: serial Bluetooth serves one at a time',
        ),
      ]
  }
}

function sharedRadio(design: Design): string {
  const dual = boardOf(design).toolchain === 'dual-radio' && !frontOf(design)
  const bluetooth = design.links.some(l => l.kind === 'bluetooth-serial' && l.radio === 'chip')
  return dual && bluetooth && design.links.some(onNetwork)
    ? 'Wi-Fi and Bluetooth of one chip take turns on one antenna: answers come late while both talk'
    : ''
}
