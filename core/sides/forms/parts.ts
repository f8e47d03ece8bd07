/** The looks of what stands beside keys for loads: scene keys, readings, lines, texts. */
import { DEVICE_READINGS } from '../../design/forms/forms'
import { unitOf } from '../../design/items'
import type { PanelPart, Sensor } from '../../design/schema'
import { isLadder } from '../../design/sensors/traits'
import { html } from '../escape'
import type { FormLook, StylePart } from './facet'
import { lock } from './lock'

type PartOf<Form extends PanelPart['form']> = Extract<PanelPart, { form: Form }>
type ReadingPart = Extract<PanelPart, { sensorId: string }>

export const SCENE: FormLook<PartOf<'scene'>> = {
  plain: true,
  style: [],
  attributes: ({ sceneId }) => ({ 'data-scene': sceneId }),
  inner: (_, { guard }, name) =>
    `<button type="button" class="np-key np-scene" data-want="scene"><span class="np-name" dir="auto">${html(name)}</span></button>${lock(guard, name)}`,
}

/** What shows a sensor; `figure` is its value with the unit, `head` the name beside that. */
interface Reading<Part extends ReadingPart> {
  part: Part
  sensor: Sensor
  name: string
  figure: string
  head: string
}

const reading = <Part extends ReadingPart>(
  style: readonly StylePart[],
  inner: (reading: Reading<Part>) => string,
): FormLook<Part> => ({
  plain: false,
  style: ['figure', ...style],
  attributes: ({ sensorId }) => ({ 'data-sensor': sensorId, 'data-shown': 'unknown' }),
  inner(design, part, name) {
    const sensor = design.sensors.find(s => s.id === part.sensorId)
    if (!sensor) return ''
    const unit = unitOf(sensor)
    const figure = `<b class="np-value">?</b>${unit ? `<span class="np-unit">${html(unit)}</span>` : ''}`
    const head = `<div class="np-pairhead"><span class="np-name" dir="auto">${html(name)}</span><span class="np-figure">${figure}</span></div>`
    return inner({ part, sensor, name, figure, head })
  },
})

export const READOUT = reading<PartOf<'readout'>>(
  ['readout'],
  ({ name, figure }) =>
    `<span class="np-name" dir="auto">${html(name)}</span><span class="np-figure np-large">${figure}</span>`,
)

export const GAUGE = reading<PartOf<'gauge'>>(
  ['gauge', 'ends'],
  ({ part, head }) =>
    `${head}<div class="np-gauge"${scale(part)}${limit('below', part.warnBelow)}${limit('above', part.warnAbove)}><i class="np-beyond np-below"></i><i class="np-beyond np-above"></i><i class="np-level"></i></div><span class="np-ends"><span>${part.low}</span><span>${part.high}</span></span>`,
)

export const HISTORY = reading<PartOf<'history'>>(
  ['chart', 'ends'],
  ({ part, head }) =>
    `${head}<svg class="np-chart"${scale(part)} data-minutes="${part.minutes}" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true"><path d=""/></svg><span class="np-ends"><span>${minutesWords(part.minutes)} ago</span><span>now</span></span>`,
)

export const COLUMN = reading<PartOf<'column'>>(
  ['column'],
  ({ part, sensor, head }) =>
    `${head}<div class="np-tank"${scale(part)}${isLadder(sensor) ? ` data-ticks="${sensor.floats.map(f => f.level).join()}"` : ''}><i class="np-level"></i></div>`,
)

export const TILT = reading<PartOf<'tilt'>>(
  ['tilt'],
  ({ head }) => `${head}<div class="np-tilt"><i class="np-at"></i></div>`,
)

/** A kitchen timer of the page itself. */
export const COUNTDOWN: FormLook<PartOf<'countdown'>> = {
  plain: false,
  style: ['figure', 'countdown'],
  attributes: ({ minutes }) => ({ 'data-minutes': String(minutes), 'data-shown': 'known' }),
  inner: (_, { minutes }, name) =>
    `<div class="np-pairhead"><span class="np-name" dir="auto">${html(name)}</span><span class="np-figure"><b class="np-value" role="timer">${minutes}:00</b></span></div><div class="np-row np-across-3"><button type="button" class="np-key np-half" data-want="less" aria-label="A minute less">\u2212 1 min</button><button type="button" class="np-key np-half" data-want="go">Start</button><button type="button" class="np-key np-half" data-want="more" aria-label="A minute more">+ 1 min</button></div>`,
}

/** A reading of the device that shows the page. */
export const DEVICE: FormLook<PartOf<'device'>> = {
  plain: false,
  style: ['figure', 'readout'],
  attributes: ({ reads }) => ({ 'data-reads': reads, 'data-shown': 'unknown' }),
  inner(_, { reads }, name) {
    const { unit } = DEVICE_READINGS[reads]
    return `<span class="np-name" dir="auto">${html(name)}</span><span class="np-figure np-large"><b class="np-value">?</b>${unit ? `<span class="np-unit">${unit}</span>` : ''}</span>`
  },
}

const line = <Form extends PanelPart['form']>(
  inner: (part: PartOf<Form>) => string,
): FormLook<PartOf<Form>> => ({
  plain: true,
  style: [],
  attributes: () => ({}),
  inner: (_, part) => inner(part),
})

export const TEXT = line<'text'>(({ text }) => `<p class="np-text" dir="auto">${html(text)}</p>`)
export const CONNECTION = line<'connection'>(() => '<p class="np-line np-why"></p>')
export const ANSWERS = line<'answers'>(
  () => '<p class="np-line np-answers" role="status">nothing answered yet</p>',
)

function scale({ low, high }: { low: number; high: number }): string {
  return ` data-low="${low}" data-high="${high}"`
}

function limit(which: string, at: number | null): string {
  return at === null ? '' : ` data-${which}="${at}"`
}

function minutesWords(minutes: number): string {
  return minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`
}
