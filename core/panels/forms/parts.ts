/** What stands on a panel beside keys for loads: scene keys, readings, lines, texts. */
import { unitOf } from '../../design/items'
import type { Sensor } from '../../design/schema'
import { valuesOf, valueWords } from '../../design/values'
import { isLadder } from '../../design/sensors/traits'
import { textWidth } from '../text-fit'
import {
  KEY_GAP_MM,
  ROW_MM,
  DISPLAY_MM,
  LARGE_MM,
  NAME_MM,
  STATE_MM,
  type Face,
  type FormFacet,
  type Size,
  type Text,
} from './facet'
import { ONE_KEY } from './keys'

/** A key without a state: the scene that it asks for is many loads. */
export const SCENE: FormFacet = {
  ...ONE_KEY,
  place: 'scenes',
  texts: ({ item, name, panel, lockMm }) => [
    {
      text: name,
      box: {
        widthMm: item.widthMm - 2 * 2.8,
        heightMm: item.heightMm - 2 * 2.2 - lockMm,
      },
      sizeMm: panel.theme.textMm,
      bold: true,
    },
  ],
}

/** Nothing that a finger is meant to hit. */
const SHOWN = (place: FormFacet['place'], size: Size, texts: FormFacet['texts']): FormFacet => ({
  ...ONE_KEY,
  place,
  touched: false,
  size: () => size,
  rows: () => [],
  texts,
})

/** A large figure. */
export const READOUT = SHOWN('readings', { widthMm: 28, heightMm: 16 }, face => {
  const sensor = sensorOf(face)
  const unit = sensor ? unitOf(sensor) : ''
  return [
    nameIn(face, { widthMm: face.item.widthMm, heightMm: face.item.heightMm - 8 - 0.8 }),
    {
      text: isLadder(sensor) ? '8888' : '-88.8',
      box: { widthMm: face.item.widthMm - 1 - textWidth(unit) * STATE_MM, heightMm: 8 },
      sizeMm: LARGE_MM,
      bold: true,
      figure: true,
    },
  ]
})

/** What a load is, in large letters, with the picture of its value where it has one. */
export const DISPLAY: FormFacet = SHOWN('keys', { widthMm: 58, heightMm: 24 }, face => {
  const { item, design } = face
  const load = 'loadId' in item ? design.loads.find(l => l.id === item.loadId) : undefined
  const words = load ? valuesOf(load.output).map(v => valueWords(load.output, v)) : []
  const widest = words.toSorted((a, b) => textWidth(b, true) - textWidth(a, true))[0] ?? ''
  return [
    nameIn(face, { widthMm: item.widthMm, heightMm: NAME_MM }),
    {
      text: widest,
      box: { widthMm: item.widthMm, heightMm: item.heightMm - NAME_MM },
      sizeMm: DISPLAY_MM,
      bold: true,
    },
  ]
})

/** A figure that says when it is beyond its limits. */
export const GAUGE = SHOWN('readings', { widthMm: 58, heightMm: 18 }, face => {
  const sensor = sensorOf(face)
  return [nameBeside(face, `\u25B2 above 88.8 ${sensor ? unitOf(sensor) : ''}`)]
})

const SHORT_FIGURE = '88.8 xx'
export const HISTORY = SHOWN('readings', { widthMm: 58, heightMm: 30 }, face => [
  nameBeside(face, SHORT_FIGURE),
])
export const COLUMN = SHOWN('readings', { widthMm: 28, heightMm: 36 }, face => [
  nameBeside(face, SHORT_FIGURE),
])
export const TILT = SHOWN('readings', { widthMm: 28, heightMm: 34 }, face => [
  nameBeside(face, SHORT_FIGURE),
])

export const TEXT = SHOWN('heading', { widthMm: 58, heightMm: 7 }, face => [
  nameIn(face, face.item),
])
/** A line of the page's own: the connection, the last answers. */
export const LINE = SHOWN('lines', { widthMm: 58, heightMm: 9 }, () => [])

const COUNTDOWN_KEYS = ['less', 'go', 'more']
/** A kitchen timer: minutes less and more, and the key that starts and stops it between them. */
export const COUNTDOWN: FormFacet = {
  ...SHOWN('readings', { widthMm: 58, heightMm: NAME_MM + ROW_MM }, face => [
    nameBeside(face, '600:00'),
  ]),
  touched: true,
  row: true,
  keys: () => COUNTDOWN_KEYS.length,
  rows: () => [COUNTDOWN_KEYS],
  side: ({ widthMm, heightMm }) =>
    Math.min(
      (widthMm - (COUNTDOWN_KEYS.length - 1) * KEY_GAP_MM) / COUNTDOWN_KEYS.length,
      heightMm - NAME_MM,
    ),
}
/** What the device tells of itself. */
export const DEVICE = SHOWN('readings', { widthMm: 28, heightMm: 16 }, face => [
  nameIn(face, { widthMm: face.item.widthMm, heightMm: face.item.heightMm - 8 - 0.8 }),
])

function nameIn({ name, panel }: Face, box: Size): Text {
  return { text: name, box, sizeMm: panel.theme.textMm, bold: true }
}

/** The name, with the figure on the same line. */
function nameBeside(face: Face, figure: string): Text {
  return nameIn(face, {
    widthMm: face.item.widthMm - textWidth(figure, true) * face.panel.theme.textMm,
    heightMm: NAME_MM,
  })
}

function sensorOf({ design, item }: Face): Sensor | undefined {
  return 'sensorId' in item ? design.sensors.find(s => s.id === item.sensorId) : undefined
}
