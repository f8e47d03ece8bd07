/** Which texts of a panel do not fit where they stand, as they are or a third longer. */
import { itemsOf, itemTitle } from '../design/items'
import type { Design, PanelItem, PanelSurface } from '../design/schema'
import { deviceOf } from './devices'
import type { Text } from './forms/facet'
import { formRow } from './forms/rows'
import { lockMm, snap, type Box } from './layout'
import { targetsIn } from './targets'
import { fits } from './text-fit'

/** Room that translations are given: a third more. */
export const LONGER = 1.3

export interface TroubledText {
  item: PanelItem
  text: string
  longer: boolean
}

/** Texts of a panel that do not fit, now or when they grow longer in translation; one an item. */
export function troubledTexts(design: Design, panel: PanelSurface): TroubledText[] {
  return itemsOf(panel).flatMap(item => {
    const found = textsOf(design, panel, item).flatMap(({ text, box, sizeMm, bold, figure }) => {
      if (!fits(text, box, sizeMm, { bold })) return [{ item, text, longer: false }]
      return figure || fits(text, box, sizeMm, { bold, stretch: LONGER })
        ? []
        : [{ item, text, longer: true }]
    })
    // One finding an item: the worst.
    return found.sort((a, b) => Number(a.longer) - Number(b.longer)).slice(0, 1)
  })
}

/**
 * The item grown in place until its texts fit, downwards first; undefined where the glass has no
 * room for that.
 */
export function roomFor(design: Design, panel: PanelSurface, item: PanelItem): Box | undefined {
  const glass = deviceOf(panel)
  // With room for translations where the glass has it.
  for (const stretch of [LONGER, 1]) {
    for (let more = 1; more <= 60; more++) {
      for (const [w, h] of [
        [0, more],
        [more, 0],
        [more, more],
      ] as const) {
        const box = snap(
          { xMm: item.xMm, yMm: item.yMm, widthMm: item.widthMm + w, heightMm: item.heightMm + h },
          glass,
        )
        if (
          textsOf(design, panel, { ...item, ...box }).every(t =>
            fits(t.text, t.box, t.sizeMm, { bold: t.bold, stretch: t.figure ? 1 : stretch }),
          )
        )
          return box
      }
    }
  }
  return undefined
}

function textsOf(design: Design, panel: PanelSurface, item: PanelItem): Text[] {
  return formRow(item.form).texts({
    design,
    panel,
    item,
    name: itemTitle(design, item),
    lockMm: lockMm(item),
    keys: targetsIn(design, item),
  })
}
