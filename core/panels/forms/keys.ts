/** One key with its name and state on it: flips, triggers, is held. */
import { loadOf } from '../../design/find'
import { isKey } from '../../design/items'
import type { Output, PanelItem } from '../../design/schema'
import { valuesOf } from '../../design/values'
import { LINE_HEIGHT, textWidth } from '../text-fit'
import { shownLabel, wantLabel } from '../words'
import {
  KEY_GAP_MM,
  KEY_MM,
  KEYS_IN_ROW,
  NAME_MM,
  ROW_MM,
  STATE_MM,
  type Face,
  type FormFacet,
  type Size,
  type Text,
} from './facet'

/** From this height on an icon stands large above the name, mm. */
const TALL_MM = 26
export const TALL = { icon: 8 + 1.4, pad: { across: 2 * (2.8 + 0.4), down: 2 * (2.4 + 0.4) } }
/** Names of tall keys are set so much larger. */
const TALL_TYPE = 1.15

/** Whether a key is as high as that. `lockMm`: what its guard takes of the height. */
export function isTall({ heightMm }: { heightMm: number }, lockMm: number): boolean {
  return heightMm - lockMm >= TALL_MM
}

const PAD = { across: 2 * (1.8 + 0.4), down: 2 * (1.2 + 0.4) }
const SHAPE_MM = 3.2 + 1.4
const ICON_MM = 4.2 + 1

export const ONE_KEY: FormFacet = {
  place: 'keys',
  touched: true,
  row: false,
  size: () => ({ widthMm: 28, heightMm: 18 }),
  keys: () => 1,
  rowsFor: () => 1,
  rows: wants => [wants.slice(0, 1)],
  label: wantLabel,
  side: ({ widthMm, heightMm }) => Math.min(widthMm, heightMm),
  texts(face) {
    const { item, name, panel, lockMm } = face
    const tall = isTall(item, lockMm)
    const pad = tall ? TALL.pad : PAD
    const inner = {
      widthMm: item.widthMm - pad.across,
      heightMm: item.heightMm - lockMm - pad.down,
    }
    const state = Math.max(STATE_MM * LINE_HEIGHT, 3.2)
    return [
      {
        text: name,
        box: {
          widthMm: inner.widthMm - (tall ? 0 : iconMm(item)),
          heightMm: inner.heightMm - state - (tall && iconMm(item) ? TALL.icon : 0),
        },
        sizeMm: panel.theme.textMm * (tall ? TALL_TYPE : 1),
        bold: true,
      },
      {
        text: widestState(face),
        box: { widthMm: inner.widthMm - SHAPE_MM, heightMm: STATE_MM * LINE_HEIGHT },
        sizeMm: STATE_MM,
        bold: false,
      },
    ]
  },
}

/** A name above rows of keys, five in a row: a pair, a key for each value, more and less. */
export const ROWS: FormFacet = {
  place: 'keys',
  touched: true,
  row: true,
  size: keys => ({ widthMm: 58, heightMm: NAME_MM + rowsOf(keys) * ROW_MM }),
  keys: wants => wants.length,
  rowsFor: rowsOf,
  rows(wants) {
    // Every row is filled like the first, so that keys of a row are equally wide.
    const across = Math.min(wants.length, KEYS_IN_ROW)
    return Array.from({ length: Math.ceil(wants.length / across) }, (_, row) =>
      wants.slice(row * across, (row + 1) * across),
    )
  },
  side(box, keys) {
    const across = Math.min(keys, KEYS_IN_ROW)
    return Math.min(
      (box.widthMm - (across - 1) * KEY_GAP_MM) / across,
      rowHeight(box, rowsOf(keys)),
    )
  },
  label: wantLabel,
  texts: face => rowTexts(face, wantLabel),
}

/** Drawn by its knob, which is as high as its row. */
export const FADER: FormFacet = {
  ...ROWS,
  keys: () => 1,
  rows: () => [['']],
  side: box => Math.min(box.widthMm, box.heightMm - NAME_MM),
}

/** A field beside the key that sends it. */
export const NUMBER: FormFacet = {
  ...ROWS,
  keys: () => 2,
  rows: () => [['', 'set']],
  label: () => 'Set',
  texts: face => rowTexts(face, () => 'Set'),
}

/** A time above, the keys that start it below. */
export const TIMER: FormFacet = {
  ...ROWS,
  size: () => ({ widthMm: 58, heightMm: NAME_MM + 2 * ROW_MM }),
  rowsFor: () => 2,
  rows: wants => [[''], [...wants]],
  side(box, keys) {
    const across = Math.min(keys, KEYS_IN_ROW)
    return Math.min((box.widthMm - (across - 1) * KEY_GAP_MM) / across, rowHeight(box, 2))
  },
  timed: true,
  label: timerLabel,
  texts: face => rowTexts(face, timerLabel),
}

/** What an icon takes of the first line, with its distance. */
function iconMm(item: PanelItem): number {
  return isKey(item) && item.icon !== 'none' ? ICON_MM : 0
}

/** What starts a timer, as a key says it. */
function timerLabel(_: Output, want: string): string {
  const words: Record<string, string> = { for: 'On for', after: 'On after', blink: 'Blink' }
  return words[want] ?? 'Off'
}

function rowsOf(keys: number): number {
  return Math.ceil(keys / KEYS_IN_ROW)
}

function rowHeight({ heightMm }: Size, rows: number): number {
  return (heightMm - NAME_MM - (rows - 1) * KEY_GAP_MM) / rows
}

/** The name shares its line with the state; each key has its words. */
function rowTexts(face: Face, label: FormFacet['label']): Text[] {
  const { design, item, keys, name, panel } = face
  const state = textWidth(widestState(face)) * STATE_MM + SHAPE_MM + 2
  const above: Text = {
    text: name,
    box: { widthMm: item.widthMm - state - iconMm(item), heightMm: NAME_MM },
    sizeMm: panel.theme.textMm,
    bold: true,
  }
  if (!isKey(item)) return [above]
  const { output } = loadOf(design, item.loadId)
  return [
    above,
    ...keys
      .filter(({ want }) => want !== '')
      .map(({ want, box }) => ({
        text: label(output, want),
        box: { widthMm: box.widthMm - 1, heightMm: box.heightMm - 0.8 },
        sizeMm: KEY_MM,
        bold: true,
      })),
  ]
}

/** The longest that a key may have to show of its load. */
function widestState({ design, item }: Face): string {
  if (!isKey(item)) return ''
  const { output } = loadOf(design, item.loadId)
  return valuesOf(output)
    .map(v => shownLabel(output, v, null, true))
    .reduce((a, b) => (textWidth(a) > textWidth(b) ? a : b))
}
