/** Which texts of a panel do not fit where they stand, as they are or a third longer. */
import { isKey, itemsOf, itemTitle, unitOf } from '../design/items'
import { loadOf } from '../design/find'
import type { Design, PanelItem, PanelSurface } from '../design/schema'
import { valuesOf } from '../design/values'
import { deviceOf } from './devices'
import { NAME_MM, isRow, lockMm, snap, type Box } from './layout'
import { targetsIn } from './targets'
import { fits, LINE_HEIGHT, textWidth } from './text-fit'
import { shownLabel, wantLabel } from './words'
import { isLadder } from '../design/sensors/traits'

/** Room that translations are given: a third more. */
export const LONGER = 1.3
/** Sizes and paddings of the page's style, mm. */
const STATE_MM = 2.6
const KEY_MM = 2.9
const LARGE_MM = 6.5
const PAD = { across: 2 * (1.8 + 0.4), down: 2 * (1.2 + 0.4) }
const SHAPE_MM = 3.2 + 1.4

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

/** `figure`: a number, the same in every language. */
interface Text {
  text: string
  box: { widthMm: number; heightMm: number }
  sizeMm: number
  bold: boolean
  figure?: boolean
}

/** What stands on keys of a timer or number field; undefined for those of other forms. */
function keyText(form: string, want: string): string | undefined {
  if (form === 'number') return 'Set'
  if (form !== 'timer') return undefined
  return { for: 'On for', after: 'On after', blink: 'Blink' }[want] ?? 'Off'
}

function textsOf(design: Design, panel: PanelSurface, item: PanelItem): Text[] {
  const name = itemTitle(design, item)
  const { textMm } = panel.theme
  const line = (sizeMm: number) => sizeMm * LINE_HEIGHT
  if (isKey(item)) {
    const { output } = loadOf(design, item.loadId)
    const states = valuesOf(output).map(v => shownLabel(output, v, null, true))
    const widest = states.reduce((a, b) => (textWidth(a) > textWidth(b) ? a : b))
    if (!isRow(item.form)) {
      const inner = {
        widthMm: item.widthMm - PAD.across,
        heightMm: item.heightMm - lockMm(item) - PAD.down,
      }
      return [
        {
          text: name,
          box: { widthMm: inner.widthMm, heightMm: inner.heightMm - Math.max(line(STATE_MM), 3.2) },
          sizeMm: textMm,
          bold: true,
        },
        {
          text: widest,
          box: { widthMm: inner.widthMm - SHAPE_MM, heightMm: line(STATE_MM) },
          sizeMm: STATE_MM,
          bold: false,
        },
      ]
    }
    // Name and state share one line.
    const state = textWidth(widest) * STATE_MM + SHAPE_MM + 2
    const wants = item.form === 'fader' ? [] : targetsIn(design, item).filter(t => t.want !== '')
    return [
      {
        text: name,
        box: { widthMm: item.widthMm - state, heightMm: NAME_MM },
        sizeMm: textMm,
        bold: true,
      },
      ...wants.map(t => ({
        text: keyText(item.form, t.want) ?? wantLabel(output, t.want),
        box: { widthMm: t.box.widthMm - 1, heightMm: t.box.heightMm - 0.8 },
        sizeMm: KEY_MM,
        bold: true,
      })),
    ]
  }
  if (item.form === 'scene')
    return [
      {
        text: name,
        box: { widthMm: item.widthMm - 2 * 2.8, heightMm: item.heightMm - 2 * 2.2 - lockMm(item) },
        sizeMm: textMm,
        bold: true,
      },
    ]
  if (item.form === 'text') return [{ text: name, box: item, sizeMm: textMm, bold: true }]
  if (!('sensorId' in item)) return []
  const sensor = design.sensors.find(s => s.id === item.sensorId)
  const figure =
    item.form === 'readout'
      ? 0
      : textWidth(`\u25B2 above 88.8 ${sensor ? unitOf(sensor) : ''}`, true) * textMm
  return item.form === 'readout'
    ? [
        {
          text: name,
          box: { widthMm: item.widthMm, heightMm: item.heightMm - 8 - 0.8 },
          sizeMm: textMm,
          bold: true,
        },
        {
          text: isLadder(sensor) ? '8888' : '-88.8',
          box: {
            widthMm: item.widthMm - 1 - textWidth(sensor ? unitOf(sensor) : '') * STATE_MM,
            heightMm: 8,
          },
          sizeMm: LARGE_MM,
          bold: true,
          figure: true,
        },
      ]
    : [
        {
          text: name,
          box: {
            widthMm:
              item.form === 'gauge'
                ? item.widthMm - figure
                : item.widthMm - textWidth('88.8 xx', true) * textMm,
            heightMm: NAME_MM,
          },
          sizeMm: textMm,
          bold: true,
        },
      ]
}
