/**
 * What an item of a panel looks like as HTML: the same text in the built page and on the canvas,
 * brought to life by app/panel-page/view.ts. Places and colours come from style sheets, so that no
 * element needs a style of its own.
 */
import { isKey, itemTitle } from '../design/items'
import type { Design, PanelItem, Theme } from '../design/schema'
import { loadOf } from '../design/find'
import { litOf } from '../panels/looks'
import { html } from './escape'
import { lookOf } from './forms/rows'

export interface Markup {
  attributes: Record<string, string>
  inner: string
}

/** The markup of one thing on a panel: attributes, and what is inside, escaped. */
export function itemMarkup(design: Design, item: PanelItem): Markup {
  const look = lookOf(item.form)
  const guard = 'guard' in item ? item.guard : 'none'
  return {
    attributes: {
      'data-id': item.id,
      'data-form': item.form,
      ...(guard === 'none' ? {} : { 'data-guard': guard }),
      ...roomMark(design, item),
      ...look.attributes(item),
    },
    inner: look.inner(design, item, itemTitle(design, item)),
  }
}

/** Tones that rooms are told apart by; the fifth room has that of the first. */
const ROOM_TONES = 4

/** Where a design has several rooms, a key shows by its edge in which its load is. */
function roomMark(design: Design, item: PanelItem): Record<string, string> {
  if (!isKey(item)) return {}
  const rooms = [...new Set(design.loads.map(l => l.room))].filter(Boolean)
  const at = rooms.indexOf(loadOf(design, item.loadId).room)
  return rooms.length > 1 && at >= 0 ? { 'data-room': String(at % ROOM_TONES) } : {}
}

/** The whole element, for the built page. */
export function itemHtml(design: Design, item: PanelItem): string {
  const { attributes, inner } = itemMarkup(design, item)
  return `<div class="np-box" ${Object.entries(attributes)
    .map(([key, value]) => `${key}="${html(value)}"`)
    .join(' ')}>${inner}</div>`
}

/** Colours and sizes of a theme, as custom properties. */
export function themeProperties(theme: Theme, night: boolean): Record<string, string> {
  return {
    '--raised': night ? theme.nightPaper : theme.paper,
    '--ink': night ? theme.nightInk : theme.ink,
    '--lit': litOf(theme, night),
    '--round': `calc(${theme.roundMm}*var(--mm))`,
    '--text': `calc(${theme.textMm}*var(--mm))`,
  }
}
