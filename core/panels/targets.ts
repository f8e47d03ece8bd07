/** What a finger can hit on a panel: the keys within each item, in millimetres of glass. */
import { isKey, itemsOf } from '../design/items'
import type { Design, PanelItem, PanelKey, PanelSurface } from '../design/schema'
import { wantsOf } from '../design/values'
import { TIMED } from '../design/outputs/timed'
import { KEY_GAP_MM, NAME_MM } from './forms/facet'
import { formRow } from './forms/rows'
import { boxOf, lockMm, type Box } from './layout'

export interface Target {
  itemId: string
  /** What a tap there asks for; "" for what is drawn or typed. */
  want: string
  box: Box
}

/** Targets of a page, item by item, keys as they stand in their rows. */
export function targetsOf(design: Design, panel: PanelSurface, page: number): Target[] {
  return itemsOf(panel)
    .filter(i => i.page === page)
    .flatMap(item => targetsIn(design, item))
}

/** What can be touched of a thing on a panel, mm. */
export function targetsIn(design: Design, item: PanelItem): Target[] {
  const { row, touched } = formRow(item.form)
  if (!touched) return []
  const rows = isKey(item) ? rowsOfKey(design, item) : formRow(item.form).rows(['scene'])
  if (!row) return [{ itemId: item.id, want: rows[0]?.[0] ?? '', box: touchable(item) }]
  const heightMm =
    (item.heightMm - lockMm(item) - NAME_MM - (rows.length - 1) * KEY_GAP_MM) / rows.length
  return rows.flatMap((wants, at) => {
    const widthMm = (item.widthMm - (wants.length - 1) * KEY_GAP_MM) / wants.length
    return wants.map((want, i) => ({
      itemId: item.id,
      want,
      box: {
        xMm: item.xMm + i * (widthMm + KEY_GAP_MM),
        yMm: item.yMm + NAME_MM + at * (heightMm + KEY_GAP_MM),
        widthMm,
        heightMm,
      },
    }))
  })
}

/** The rows of a key, by what stands in them. */
export function rowsOfKey(design: Design, key: PanelKey): string[][] {
  return formRow(key.form).rows(wantsAt(design, key))
}

/** What a key asks for; of a timer only what its link has a code for. */
export function wantsAt(design: Design, key: PanelKey): readonly string[] {
  const output = design.loads.find(l => l.id === key.loadId)?.output
  if (!output) return []
  const wants = wantsOf(output, key.form)
  if (!formRow(key.form).timed) return wants
  const codes = design.links.flatMap(l =>
    l.messages.filter(m => m.loadId === key.loadId).map(m => m.codes as Record<string, string>),
  )
  return wants.filter(
    w => !(TIMED as readonly string[]).includes(w) || codes.some(c => (c[w] ?? '') !== ''),
  )
}

/** Without the lock below. */
function touchable(item: PanelItem): Box {
  return { ...boxOf(item), heightMm: item.heightMm - lockMm(item) }
}
