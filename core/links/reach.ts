/** Which panel can use which link from where, and what to do where it cannot. */
import type { Design } from '../design/schema'
import { linkOf, panels } from '../design/find'
import { boardOf, frontOf } from '../design/pins'

export interface Reach { panel: string, surfaceId: string, from: string, works: 'yes' | 'no' | 'sometimes', why: string, instead: string }

/** From the places where a page can come; facts of browsers as of their standards (Web Serial, mixed content, private network access). */
export function reach(design: Design): Reach[] {
  const shared = sharedRadio(design)
  return panels(design).flatMap((panel): Reach[] => {
    const link = linkOf(design, panel.linkId)
    const row = (from: string, works: Reach['works'], why: string, instead = ''): Reach => ({ panel: panel.name, surfaceId: panel.id, from, works, why, instead })
    if (link.kind === 'http') {
      const net = link.network === 'own' ? 'the phone must be on the board\'s own network, and has no internet meanwhile' : 'phone and board must be on the same house network'
      return [
        row('page kept as a file', 'yes', `it asks the address in the design; ${net}`),
        row('page from the board or a stand-in', 'yes', net),
        row('page from a secure site', 'no', 'a page that came by https may not ask an http address inside the house', 'keep the page as a file, or let the board give it'),
        ...(shared ? [row('while Bluetooth is in use', 'sometimes', shared, 'take a serial module of its own for Bluetooth, or a board in front for the network')] : []),
      ]
    }
    return [
      row('desktop browser, page as a file', 'sometimes', 'browsers that offer serial ports to pages reach a paired module; others offer none', 'use the stand-in, or a browser with Web Serial'),
      row('phone browser', 'no', 'phone browsers offer no serial Bluetooth to pages', 'use a serial terminal app with the codes of the message sheet, or a panel over HTTP'),
      row('a second phone meanwhile', 'no', 'a serial module serves one phone at a time; the second is refused until the first lets go', 'disconnect the first, or add a panel over HTTP'),
    ]
  })
}

function sharedRadio(design: Design): string {
  const dual = boardOf(design).toolchain === 'dual-radio' && !frontOf(design)
  const bluetooth = design.links.some(l => l.kind === 'bluetooth-serial' && l.statusPin === null)
  return dual && bluetooth && design.links.some(l => l.kind === 'http') ? 'Wi-Fi and Bluetooth of one chip take turns on one antenna: answers come late while both talk' : ''
}
