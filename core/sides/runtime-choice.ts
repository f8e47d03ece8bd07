/**
 * Which program a panel page needs: the smallest that can do what its link and its parts ask for.
 */
import { linkOf } from '../design/find'
import { itemsOf } from '../design/items'
import type { Design, PanelSurface } from '../design/schema'
import { isLowEnergy, speaksRoutes, structureOn } from '../design/links/traits'
import { isFine } from '../design/values'
import { hasPlaces } from '../messages/setpoints'
import { rows } from '../messages/table'
import { lookOf } from './forms/rows'

export type RuntimeName =
  | 'http'
  | 'httpSigned'
  | 'httpRich'
  | 'httpRichSigned'
  | 'serial'
  | 'serialRich'
  | 'serialRichSigned'
  | 'lowEnergy'
  | 'lowEnergyRich'
  | 'lowEnergyRichSigned'
  | 'all'

/** Whether a panel needs more than keys: numbers, readings, faders, fields, guards. */
export function isRich(design: Design, panel: PanelSurface): boolean {
  const link = linkOf(design, panel.linkId)
  const numbers = rows(design, link).some(
    ({ load, message }) => isFine(load.output) || hasPlaces(message),
  )
  return (
    numbers
    || itemsOf(panel).some(i => !lookOf(i.form).plain || ('guard' in i && i.guard !== 'none'))
  )
}

/** The smallest runtime that can do what a panel asks for. */
export function runtimeFor(design: Design, panel: PanelSurface): RuntimeName {
  const link = linkOf(design, panel.linkId)
  if (structureOn(link)) return 'all'
  const rich = isRich(design, panel) || (speaksRoutes(link) && link.bodies !== 'none')
  const signed = link.auth.kind !== 'none'
  if (speaksRoutes(link)) return `http${rich ? 'Rich' : ''}${signed ? 'Signed' : ''}`
  // Where no browser leads the page speaks through a stand-in only, or tells so.
  const bytes = isLowEnergy(link) ? 'lowEnergy' : 'serial'
  if (signed) return `${bytes}RichSigned`
  return rich ? `${bytes}Rich` : bytes
}
