/**
 * What an item of a panel looks like as HTML: the same text in the built page and on the canvas,
 * brought to life by app/panel-page/view.ts. Places and colours come from style sheets, so that no
 * element needs a style of its own.
 */
import { isKey, itemTitle, unitOf } from '../design/items'
import { loadOf } from '../design/find'
import type { Design, PanelItem, PanelKey, PanelPart, Sensor, Theme } from '../design/schema'
import { restOf, valuesOf } from '../design/values'
import { SHORTEST_MS } from '../messages/times'
import { isRow } from '../panels/layout'
import { rowsOfKey, wantsAt } from '../panels/targets'
import { wantLabel } from '../panels/words'
import { html } from './escape'
import { timersOf } from '../design/outputs/traits'
import { isLadder } from '../design/sensors/traits'

export interface Markup {
  attributes: Record<string, string>
  inner: string
}

/** The markup of one thing on a panel: attributes, and what is inside, escaped. */
export function itemMarkup(design: Design, item: PanelItem): Markup {
  const guard = 'guard' in item ? item.guard : 'none'
  const attributes: Record<string, string> = {
    'data-id': item.id,
    'data-form': item.form,
    ...(guard === 'none' ? {} : { 'data-guard': guard }),
  }
  const name = itemTitle(design, item)
  if (isKey(item))
    return {
      attributes: { ...attributes, 'data-load-id': item.loadId, 'data-shown': 'unknown' },
      inner: keyInner(design, item, name) + lock(guard, name),
    }
  if ('sensorId' in item) {
    const sensor = design.sensors.find(s => s.id === item.sensorId)
    return {
      attributes: { ...attributes, 'data-sensor': item.sensorId, 'data-shown': 'unknown' },
      inner: sensor ? readingInner(item, sensor, name) : '',
    }
  }
  if (item.form === 'scene')
    return {
      attributes: { ...attributes, 'data-scene': item.sceneId },
      inner: `<button type="button" class="np-key np-scene" data-want="scene"><span class="np-name" dir="auto">${html(name)}</span></button>${lock(guard, name)}`,
    }
  return { attributes, inner: lineInner(item) }
}

/** The whole element, for the built page. */
export function itemHtml(design: Design, item: PanelItem): string {
  const { attributes, inner } = itemMarkup(design, item)
  return `<div class="np-box" ${Object.entries(attributes)
    .map(([key, value]) => `${key}="${html(value)}"`)
    .join(' ')}>${inner}</div>`
}

const STATE =
  '<span class="np-state"><span class="np-words">not known</span><i class="np-shape"></i></span>'

function keyInner(design: Design, key: PanelKey, name: string): string {
  const { output } = loadOf(design, key.loadId)
  const title = `<span class="np-name" dir="auto">${html(name)}</span>`
  if (!isRow(key.form))
    return `<button type="button" class="np-key${key.form === 'hold' ? ' np-hold' : ''}" data-want="${wantsAt(design, key)[0] ?? ''}">${title}${STATE}</button>`
  const head = `<div class="np-pairhead">${title}${STATE}</div>`
  const button = (want: string, words: string) =>
    `<button type="button" class="np-key np-half" data-want="${want}" aria-label="${html(`${name} ${words.toLowerCase()}`)}">${html(words)}</button>`
  const label = html(name)
  switch (key.form) {
    case 'fader':
      return `${head}<div class="np-row"><input class="np-fader" type="range" min="0" max="${valuesOf(output).length - 1}" step="1" value="0" aria-label="${label}"></div>`
    case 'number':
      return `${head}<div class="np-row np-two"><input class="np-field" type="number" min="${restOf(output)}" max="${valuesOf(output).at(-1)}" inputmode="numeric" aria-label="${html(`${name}, number`)}" placeholder="?">${button('set', 'Set')}</div>`
    case 'timer':
      return `${head}<div class="np-row np-rows"><label class="np-time"><input class="np-field" type="number" min="${SHORTEST_MS / 1000}" max="86400" step="any" inputmode="decimal" value="${timeOf(output)}" aria-label="${html(`${name}, time in seconds`)}"><span>s</span></label><span class="np-split">${wantsAt(
        design,
        key,
      )
        .map(want => button(want, timerWords(want)))
        .join('')}</span></div>`
    default: {
      const rows = rowsOfKey(design, key)
      return `${head}<div class="np-row np-across-${rows[0]?.length ?? 1}">${rows
        .flat()
        .map(want => button(want, wantLabel(output, want)))
        .join('')}</div>`
    }
  }
}

/** What starts a timer, as a key says it. */
function timerWords(want: string): string {
  const words: Record<string, string> = { for: 'On for', after: 'On after', blink: 'Blink' }
  return words[want] ?? 'Off'
}

function timeOf(output: ReturnType<typeof loadOf>['output']): number {
  return (timersOf(output)?.offDelayMs ?? 10_000) / 1000
}

/**
 * The guard: a lock to slide, a field for the PIN. Keys that are held to confirm need nothing more.
 */
function lock(guard: PanelKey['guard'], name: string): string {
  if (guard === 'slide')
    return `<input class="np-lock" type="range" min="0" max="100" value="0" aria-label="${html(`Slide to free ${name}`)}"><span class="np-slide" aria-hidden="true">slide to free</span>`
  if (guard === 'pin')
    return `<input class="np-lock" type="password" inputmode="numeric" maxlength="12" autocomplete="off" placeholder="PIN" aria-label="${html(`PIN for ${name}`)}">`
  return ''
}

function readingInner(
  part: Extract<PanelPart, { sensorId: string }>,
  sensor: Sensor,
  name: string,
): string {
  const unit = unitOf(sensor)
  const value = `<b class="np-value">?</b>${unit ? `<span class="np-unit">${html(unit)}</span>` : ''}`
  const head = `<div class="np-pairhead"><span class="np-name" dir="auto">${html(name)}</span><span class="np-figure">${value}</span></div>`
  const ends =
    'low' in part
      ? `<span class="np-ends"><span>${part.low}</span><span>${part.high}</span></span>`
      : ''
  const scale = 'low' in part ? ` data-low="${part.low}" data-high="${part.high}"` : ''
  switch (part.form) {
    case 'readout':
      return `<span class="np-name" dir="auto">${html(name)}</span><span class="np-figure np-large">${value}</span>`
    case 'gauge':
      return `${head}<div class="np-gauge"${scale}${part.warnBelow === null ? '' : ` data-below="${part.warnBelow}"`}${part.warnAbove === null ? '' : ` data-above="${part.warnAbove}"`}><i class="np-beyond np-below"></i><i class="np-beyond np-above"></i><i class="np-level"></i></div>${ends}`
    case 'history':
      return `${head}<svg class="np-chart"${scale} data-minutes="${part.minutes}" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true"><path d=""/></svg><span class="np-ends"><span>${minutesWords(part.minutes)} ago</span><span>now</span></span>`
    case 'column':
      return `${head}<div class="np-tank"${scale}${isLadder(sensor) ? ` data-ticks="${sensor.floats.map(f => f.level).join()}"` : ''}><i class="np-level"></i></div>`
    case 'tilt':
      return `${head}<div class="np-tilt"><i class="np-at"></i></div>`
  }
}

function minutesWords(minutes: number): string {
  return minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`
}

function lineInner(part: Exclude<PanelPart, { sensorId: string } | { sceneId: string }>): string {
  switch (part.form) {
    case 'text':
      return `<p class="np-text" dir="auto">${html(part.text)}</p>`
    case 'connection':
      return '<p class="np-line np-why"></p>'
    case 'answers':
      return '<p class="np-line np-answers" role="status">nothing answered yet</p>'
  }
}

/** Colours and sizes of a theme, as custom properties. */
export function themeProperties(theme: Theme, night: boolean): Record<string, string> {
  return {
    '--raised': night ? theme.nightPaper : theme.paper,
    '--ink': night ? theme.nightInk : theme.ink,
    '--round': `calc(${theme.roundMm}*var(--mm))`,
    '--text': `calc(${theme.textMm}*var(--mm))`,
  }
}
