/**
 * Wall cards: a sheet to print, a card for each load of a panel, whose square opens the panel at
 * the key of that load.
 */
// The part of the package that only computes; its main entry asks for files and canvases.
// @ts-expect-error -- it has no types
import { create } from 'qrcode/lib/core/qrcode.js'
import { linkOf, loadOf, panelOf } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { GUARD_WORDS } from '../design/items'
import type { Design, Load, PanelKey, PanelSurface } from '../design/schema'
import { valueWords, valuesOf } from '../design/values'
import { html } from './escape'
import { isLevel, isOpposed, isPulse, isChoice } from '../design/outputs/traits'
import { speaksRoutes } from '../design/links/traits'

/**
 * Where a card opens the panel. Without a place of its own the page is looked for at the
 * controller.
 */
export function cardAddress(
  design: Design,
  panel: PanelSurface,
  key: Pick<PanelKey, 'id'>,
): string {
  const link = linkOf(design, panel.linkId)
  const base = panel.pageAddress || (speaksRoutes(link) ? `${link.address}/` : '')
  return base === '' ? '' : `${base.replace(/#.*$/, '')}#${key.id}`
}

/**
 * ISO/IEC 18004, error correction M: a seventh of the square may be dirty. Dark modules as one
 * path, four light ones around.
 */
export function qrSvg(text: string): string {
  const {
    modules: { size, data },
  } = (create as Create)(text, { errorCorrectionLevel: 'M' })
  let path = ''
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++)
      if (data[y * size + x]) path += `M${x + QUIET} ${y + QUIET}h1v1h-1z`
  }
  const side = size + 2 * QUIET
  return `<svg viewBox="0 0 ${side} ${side}" role="img" aria-label="${html(`Square that opens ${text}`)}"><rect width="${side}" height="${side}" fill="#fff"/><path d="${path}" fill="#000"/></svg>`
}
const QUIET = 4
type Create = (
  text: string,
  options: { errorCorrectionLevel: 'L' | 'M' | 'Q' | 'H' },
) => { modules: { size: number; data: Uint8Array } }

/** What the key does, for somebody who stands before it. */
export function cardWords(load: Load, key: Pick<PanelKey, 'form' | 'guard'>): string {
  const guard =
    key.guard === 'none'
      ? ''
      : `${GUARD_WORDS[key.guard].charAt(0).toUpperCase()}${GUARD_WORDS[key.guard].slice(1)}. `
  return guard + formWords(load, key)
}

function formWords({ output }: Load, { form }: Pick<PanelKey, 'form'>): string {
  switch (form) {
    case 'state':
      return 'Press: on, or off again. The key shows which.'
    case 'pair':
      return 'Press On or Off.'
    case 'trigger':
      return isPulse(output)
        ? `Press: on for ${seconds(output.lengthMs)}, then off by itself.`
        : 'Press.'
    case 'hold':
      return 'Hold: on while the finger stays, off when it leaves.'
    case 'timer':
      return 'Give a time and press: on for it, or on after it.'
    case 'number':
      return 'Type a value and press Set.'
    case 'fader':
      return 'Draw to the value.'
    case 'stepper':
      return 'Press + or \u2212 for the next value.'
    case 'shown':
      return 'It shows what is so: nothing is pressed.'
    case 'each':
      return isOpposed(output)
        ? `Press Forward or Reverse; Stop ends it at once${output.runLimitMs ? `, and it ends by itself after ${seconds(output.runLimitMs)}` : ''}.`
        : `Press a value: ${
            isLevel(output) || isChoice(output)
              ? valuesOf(output)
                  .map(v => valueWords(output, v))
                  .join(', ')
              : 'a position'
          }.`
  }
}

function seconds(ms: number): string {
  return `${ms / 1000} s`
}

/** A page of cards to print: each key of a panel with a square that opens it. */
export function wallCards(design: Design, surfaceId: string): string {
  const panel = panelOf(design, surfaceId)
  const cards = panel.keys.map(key => {
    const load = loadOf(design, key.loadId)
    const address = cardAddress(design, panel, key)
    const square = address
      ? `${qrSvg(address)}<p class="at">${html(address)}</p>`
      : '<p class="at">This panel has no address yet: say on its ticket where the page is opened.</p>'
    return `<section><h2 dir="auto">${html(load.name)}</h2><p dir="auto">${html(cardWords(load, key))}</p>${square}<p class="from" dir="auto">${html(`${panel.name}, ${design.name}`)} <code>${fingerprint(design)}</code></p></section>`
  })
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="nolvi-fingerprint" content="${fingerprint(design)}">
<title>${html(`Wall cards of ${panel.name}`)}</title>
<style>
@page{margin:12mm}
body{margin:0;padding:6mm;background:#fff;color:#24211d;font:11pt/1.35 "Atkinson Hyperlegible Next Variable",system-ui,sans-serif}
main{display:grid;grid-template-columns:repeat(auto-fill,minmax(62mm,1fr));gap:0}
section{border:.3mm dashed #978c7c;padding:6mm;break-inside:avoid;display:grid;gap:2mm;justify-items:start;align-content:start}
h1{font-size:13pt;margin:0 0 4mm}h2{font-size:17pt;line-height:1.15;margin:0;overflow-wrap:anywhere}p{margin:0}
svg{width:34mm;height:34mm}.at{font-size:8.5pt;overflow-wrap:anywhere}.from{font-size:8.5pt;color:#655e53}
@media print{h1{display:none}body{padding:0}}
</style>
</head>
<body>
<h1>${html(`Wall cards of ${panel.name}: print, cut, put beside what they switch`)}</h1>
<main>
${cards.join('\n')}
</main>
</body>
</html>
`
}
