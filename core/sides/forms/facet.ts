/** What a panel page knows of a form: a row each, joined in `rows.ts`. */
import type { Design, PanelItem } from '../../design/schema'

/** What a form or a guard may need of the style beside keys and lines. */
export type StylePart =
  | 'tabs'
  | 'behind'
  | 'row'
  | 'scene'
  | 'text'
  | 'line'
  | 'tall'
  | 'rooms'
  | 'settings'
  | 'icon'
  | 'field'
  | 'fader'
  | 'lock'
  | 'held'
  | 'figure'
  | 'readout'
  | 'gauge'
  | 'chart'
  | 'column'
  | 'tilt'
  | 'ends'
  | 'countdown'
  | 'shown'

export interface FormLook<Item extends PanelItem = PanelItem> {
  /** Keys and lines only: every program of a page can do it. */
  plain: boolean
  /** What it needs of the style beside keys and lines. */
  style: readonly StylePart[]
  /** What ties it to a load, a sensor, a scene, for the page's program. */
  attributes(item: Item): Record<string, string>
  /** What stands in its box, as HTML, escaped. `name`: what people call it. */
  inner(design: Design, item: Item, name: string): string
}
