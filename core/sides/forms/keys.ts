/** The looks of what commands a load. */
import { loadOf, farSurfaces, maybeMessage, linkOf } from '../../design/find'
import { isChoice, timersOf } from '../../design/outputs/traits'
import type { Design, Output, PanelKey } from '../../design/schema'
import { restOf, valuesOf } from '../../design/values'
import { SHORTEST_MS } from '../../messages/times'
import { isTall } from '../../panels/forms/keys'
import { formRow } from '../../panels/forms/rows'
import { lockMm } from '../../panels/layout'
import { rowsOfKey, wantsAt } from '../../panels/targets'
import { html } from '../escape'
import type { FormLook } from './facet'
import { lock } from './lock'
import { chosenIcon } from '../../design/icons'
import { iconSvg } from '../icons'
import { numbersSaid } from '../../messages/setpoints'

type KeyLook = FormLook<PanelKey>
const STATE =
  '<span class="np-state"><span class="np-words">not known</span><i class="np-shape"></i></span>'

const look = (
  inner: (output: Output, key: PanelKey, name: string, design: Design) => string,
  more: Partial<Pick<KeyLook, 'plain' | 'style'>> = {},
): KeyLook => ({
  plain: true,
  style: [],
  attributes: ({ loadId }) => ({ 'data-load-id': loadId, 'data-shown': 'unknown' }),
  inner: (design, key, name) =>
    inner(loadOf(design, key.loadId).output, key, name, design) + lock(key.guard, name),
  ...more,
})

const oneKey = (classes: string): KeyLook =>
  look(
    (_, key, name, design) =>
      `<button type="button" class="${classes}${isTall(key, lockMm(key)) ? ' np-tall' : ''}" data-want="${wantsAt(design, key)[0] ?? ''}">${title(design, key, name)}${STATE}</button>`,
  )

export const ONE_KEY = oneKey('np-key')
export const HOLD = oneKey('np-key np-hold')

export const ROWS = look((output, key, name, design) => {
  const rows = rowsOfKey(design, key)
  return `${head(design, key, name)}<div class="np-row np-across-${rows[0]?.length ?? 1}">${rows
    .flat()
    .map(want => button(output, key, name, want))
    .join('')}</div>`
})

export const FADER = look(
  (output, key, name, design) =>
    `${head(design, key, name)}<div class="np-row"><input class="np-fader" type="range" min="0" ${track(output, key, design)} value="0" aria-label="${html(name)}"></div>`,
  { plain: false, style: ['fader'] },
)

export const NUMBER = look(
  (output, key, name, design) =>
    `${head(design, key, name)}<div class="np-row np-two"><input class="np-field" type="number" min="${restOf(output)}" max="${valuesOf(output).at(-1)}" inputmode="numeric" aria-label="${html(`${name}, number`)}" placeholder="?">${button(output, key, name, 'set')}</div>`,
  { plain: false, style: ['field'] },
)

export const TIMER = look(
  (output, key, name, design) =>
    `${head(design, key, name)}<div class="np-row np-rows"><label class="np-time"><input class="np-field" type="number" min="${SHORTEST_MS / 1000}" max="86400" step="any" inputmode="decimal" value="${timeOf(output)}" aria-label="${html(`${name}, time in seconds`)}"><span>s</span></label><span class="np-split">${wantsAt(
      design,
      key,
    )
      .map(want => button(output, key, name, want))
      .join('')}</span></div>`,
  { plain: false, style: ['field'] },
)

/** Which picture is shown follows from the style of the page: it knows what the box shows. */
export const DISPLAY = look(
  (output, key, name, design) =>
    `<div class="np-pairhead">${title(design, key, name)}</div><div class="np-shown">${picturesOf(
      output,
    )
      .map(c => `<img alt="" data-is="${c.id}" src="${c.picture}">`)
      .join('')}<b class="np-words">not known</b></div>`,
  { style: ['shown'] },
)

/** The values of a choice that have a picture. */
export function picturesOf(output: Output): { id: string; picture: string }[] {
  return isChoice(output)
    ? output.choices.flatMap(({ id, picture }) => (picture === null ? [] : [{ id, picture }]))
    : []
}

/**
 * How far a fader goes: over the numbers, where its link says them, else from one named value to
 * the next.
 */
function track(output: Output, key: PanelKey, design: Design): string {
  const panel = farSurfaces(design).find(s => (s.keys as PanelKey[]).some(k => k.id === key.id))
  const message = panel && maybeMessage(linkOf(design, panel.linkId), key.loadId)
  const numbers = numbersSaid(output, message)
  return numbers
    ? `max="${numbers.high}" step="${numbers.step}" data-numbers`
    : `max="${valuesOf(output).length - 1}" step="1"`
}

function title(design: Design, key: PanelKey, name: string): string {
  const icon = chosenIcon(key.icon, loadOf(design, key.loadId))
  return `<span class="np-name" dir="auto">${icon ? iconSvg(icon) : ''}${html(name)}</span>`
}

function head(design: Design, key: PanelKey, name: string): string {
  return `<div class="np-pairhead">${title(design, key, name)}${STATE}</div>`
}

function button(output: Output, key: PanelKey, name: string, want: string): string {
  const words = formRow(key.form).label(output, want)
  return `<button type="button" class="np-key np-half" data-want="${want}" aria-label="${html(`${name} ${words.toLowerCase()}`)}">${html(words)}</button>`
}

/** The time that a timer starts with, s. */
function timeOf(output: Output): number {
  return (timersOf(output)?.offDelayMs ?? 10_000) / 1000
}
