/** What a layout knows of a form: a row each, joined in `rows.ts`. Lengths are mm of glass. */
import type { Design, Output, PanelItem, PanelSurface } from '../../design/schema'

export interface Size {
  widthMm: number
  heightMm: number
}

/** The name above rows of keys takes this much of the height. */
export const NAME_MM = 6
/** Keys that stand beside one another in a row. */
export const KEYS_IN_ROW = 5
export const KEY_GAP_MM = 1
export const ROW_MM = 14

/** Sizes and paddings of the page's style. */
export const STATE_MM = 2.6
export const KEY_MM = 2.9
export const LARGE_MM = 6.5
export const DISPLAY_MM = 5

/** `figure`: a number, the same in every language. */
export interface Text {
  text: string
  box: Size
  sizeMm: number
  bold: boolean
  figure?: boolean
}

/** A thing on a panel whose texts are looked at. */
export interface Face<Item extends PanelItem = PanelItem> {
  design: Design
  panel: PanelSurface
  item: Item
  /** What people call it. */
  name: string
  /** Height that its lock takes. */
  lockMm: number
  /** What a finger can hit of it. */
  keys: readonly { want: string; box: Size }[]
}

export interface FormFacet {
  /** Where it belongs when a panel lays itself out; a heading has a row of its own. */
  place: 'keys' | 'readings' | 'scenes' | 'heading' | 'lines'
  /** A finger is meant to hit it. */
  touched: boolean
  /** A name above rows of keys; else one key with the name on it. */
  row: boolean
  /** Size of a new one. `keys`: of its rows. */
  size(keys: number): Size
  /** Keys in its rows: what is typed and what is drawn count as one. `wants`: what they ask for. */
  keys(wants: readonly string[]): number
  /** Rows that so many keys stand in. */
  rowsFor(keys: number): number
  /** What stands in its rows; "" for what is drawn or typed. */
  rows(wants: readonly string[]): string[][]
  /** The least side that a thumb has to hit of one without its lock. */
  side(box: Size, keys: number): number
  /** It asks for a time only where its link has a code for that. */
  timed?: true
  /** What a key of it says that asks for something. */
  label(output: Output, want: string): string
  texts(face: Face): Text[]
}
