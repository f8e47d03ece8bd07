/** Placing a load on a panel: gives it codes on the link first, where it has none, and a free place on the grid. */
import { linkOf, loadOf, maybeMessage } from '../../core/design/find'
import type { Edit } from '../../core/design/edits'
import type { PanelSurface } from '../../core/design/schema'
import { nextCodes } from '../../core/messages/assign'
import { deviceOf } from '../../core/panels/devices'
import { firstKey, snap } from '../../core/panels/layout'
import { useDesignStore } from '../stores/design'

export function usePanelPlacing() {
  const designs = useDesignStore()

  /** `at` is the wanted middle of the key, mm; null takes the first free place. A placed load is moved there. */
  function place(panel: PanelSurface, loadId: string, at: { xMm: number, yMm: number } | null): boolean {
    const { design } = designs
    if (!design) return false
    const there = panel.keys.find(k => k.loadId === loadId)
    const load = loadOf(design, loadId)
    const key = there ?? firstKey(panel, load)
    const box = at ? snap({ xMm: at.xMm - key.widthMm / 2, yMm: at.yMm - key.heightMm / 2, widthMm: key.widthMm, heightMm: key.heightMm }, deviceOf(panel.device)) : key
    if (there) return at ? designs.apply({ type: 'moveKey', surfaceId: panel.id, loadId, box }) : true
    const link = linkOf(design, panel.linkId)
    const placing: Edit = { type: 'placeKey', surfaceId: panel.id, key: { ...key, ...box } }
    if (maybeMessage(link, loadId)) return designs.apply(placing)
    return designs.apply({ type: 'together', edits: [{ type: 'addMessage', linkId: link.id, loadId, codes: nextCodes(design, link, load) }, placing], words: `${load.name} placed on ${panel.name}, with codes of its own` })
  }

  return { place }
}
