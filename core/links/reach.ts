/** Which panel can use which link from where, and what to do where it cannot. */
import { linkOf, farSurfaces } from '../design/find'
import type { Design } from '../design/schema'
import { onChip, onNetwork } from '../design/links/traits'
import { boardOf, frontOf } from '../design/pins'
import type { Reach } from './kinds/facet'
import { carriageOf } from './kinds/rows'
import { classOf } from '../boards/classes'

/**
 * From the places where a page or box can be; facts of browsers as of their standards (Web Serial,
 * mixed content, private network access).
 */
export function reach(design: Design): Reach[] {
  const shared = sharedRadio(design)
  return farSurfaces(design).flatMap((surface): Reach[] => {
    const link = linkOf(design, surface.linkId)
    const carriage = carriageOf(link)
    const places =
      surface.kind === 'peer' ? carriage.boxReach(link) : carriage.pageReach(link, shared)
    return places.map(place => ({ panel: surface.name, surfaceId: surface.id, ...place }))
  })
}

function sharedRadio(design: Design): string {
  const dual = classOf(boardOf(design)).oneAntenna && !frontOf(design)
  const bluetooth = design.links.some(onChip)
  return dual && bluetooth && design.links.some(onNetwork)
    ? 'Wi-Fi and Bluetooth of one chip take turns on one antenna: answers come late while both talk'
    : ''
}
