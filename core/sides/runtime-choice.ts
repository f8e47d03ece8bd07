/**
 * Which program a panel page needs: the smallest that can do what its link and its parts ask for.
 */
import { linkOf } from '../design/find'
import { itemsOf } from '../design/items'
import type { Design, PanelSurface } from '../design/schema'
import { speaksRoutes, structureOn } from '../design/links/traits'
import { lookOf } from './forms/rows'

export type RuntimeName = 'http' | 'text' | 'httpSigned' | 'httpRich' | 'textRich' | 'all'

/** Whether a panel needs more than keys: readings, faders, fields, guards. */
export function isRich(panel: PanelSurface): boolean {
  return itemsOf(panel).some(i => !lookOf(i.form).plain || ('guard' in i && i.guard !== 'none'))
}

/** The smallest runtime that can do what a panel asks for. */
export function runtimeFor(design: Design, panel: PanelSurface): RuntimeName {
  const link = linkOf(design, panel.linkId)
  if (speaksRoutes(link) && link.auth.kind !== 'none' && !isRich(panel)) return 'httpSigned'
  if (link.auth.kind !== 'none' || structureOn(link)) return 'all'
  const plain = speaksRoutes(link) ? 'http' : 'text'
  return isRich(panel) ? `${plain}Rich` : plain
}
