/**
 * Which program a panel page needs: the smallest that can do what its link and its parts ask for.
 */
import { linkOf } from '../design/find'
import { itemsOf } from '../design/items'
import type { Design, PanelSurface } from '../design/schema'
import { speaksRoutes, structureOn } from '../design/links/traits'
import { isFine } from '../design/values'
import { hasPlaces } from '../messages/setpoints'
import { rows } from '../messages/table'
import { lookOf } from './forms/rows'

export type RuntimeName = 'http' | 'text' | 'httpSigned' | 'httpRich' | 'textRich' | 'all'

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
  const bodied = speaksRoutes(link) && link.bodies !== 'none'
  if (speaksRoutes(link) && link.auth.kind !== 'none' && !bodied && !isRich(design, panel))
    return 'httpSigned'
  if (link.auth.kind !== 'none' || structureOn(link)) return 'all'
  const plain = speaksRoutes(link) ? 'http' : 'text'
  return bodied || isRich(design, panel) ? `${plain}Rich` : plain
}
