/**
 * The HTML of a panel page around its program: apart, because the programs are large and checks
 * need their sizes only.
 */
import { sha256 } from '@noble/hashes/sha2.js'
import { utf8ToBytes } from '@noble/hashes/utils.js'
import { base64 } from '../bytes/base64'
import { linkOf, panelOf, loadOf } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { itemsOf } from '../design/items'
import type {
  Design,
  Link,
  LinkReading,
  PanelItem,
  PanelSurface,
  Theme,
  PanelKey,
} from '../design/schema'
import { refit } from '../panels/auto'
import { deviceOf, type Glass } from '../panels/devices'
import { html, scriptJson } from './escape'
import { drawnOnce, iconNotice } from './icons'
import { itemHtml, themeProperties } from './panel-markup'
import { RUNTIME_BYTES } from './panel-runtime-bytes'
import { NIGHT_SIGNALS, styleFor, stylesIn } from './panel-style'
import { runtimeFor } from './runtime-choice'
import { speaksBytes, speaksRoutes } from '../design/links/traits'
import { picturesOf } from './forms/keys'
import { isChoice } from '../design/outputs/traits'

/** What the browser is told of each look. */
const COLOUR_SCHEMES: Record<Theme['look'], string> = {
  auto: 'light dark',
  day: 'light',
  night: 'dark',
}

/**
 * `standInPath`: where a stand-in offers the bytes of a link. `secret`: left out, the page asks for
 * it once. `site`: the page of an installable site, with its manifest beside it. All are left out
 * in the page a maker takes away.
 */
export interface PageOptions {
  standInPath?: string | undefined
  secret?: string | undefined
  site?: boolean
}

/** Characters of the page that is taken away, without making all of it. */
export function pageLength(design: Design, surfaceId: string): number {
  return (
    pageWith(design, surfaceId, '', {}).length
    + RUNTIME_BYTES[runtimeFor(design, panelOf(design, surfaceId))]
  )
}

/** The page with a program. */
export function pageWith(
  design: Design,
  surfaceId: string,
  script: string,
  { standInPath, secret, site = false }: PageOptions,
): string {
  const panel = panelOf(design, surfaceId)
  const link = linkOf(design, panel.linkId)
  const print = fingerprint(design)
  const several = panel.pages.length > 1
  const title = `<h1 class="np-title"${several ? ' hidden' : ''} dir="auto">${html(design.name)}</h1>`
  const tabs = several
    ? `<nav class="np-tabs" aria-label="Pages">${panel.pages.map((p, i) => `<button type="button"${i ? '' : ' aria-current="page"'} dir="auto">${html(p.name)}</button>`).join('')}</nav>`
    : ''
  const pages = drawnOnce(
    panel.pages
      .map(
        (
          page,
          n,
        ) => `<section class="np-page" aria-label="${html(page.name)}"${n ? ' hidden' : ''}>${page.picture ? `\n<img class="np-behind" alt="" src="${page.picture}">` : ''}
${itemsOf(panel)
  .filter(i => i.page === n)
  .map(item => itemHtml(design, item))
  .join('\n')}
</section>`,
      )
      .join('\n'),
  )
  const more = stylesIn(tabs + pages)
  if (hasSettings(link)) more.push('settings')
  const style = `\n${styleFor(itemsOf(panel), more)}\n${pageStyle(design, panel)}\n`
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="${policy(link, style, script, site)}">
<meta name="viewport" content="width=device-width, initial-scale=1, viewport-fit=cover">
<meta name="color-scheme" content="${COLOUR_SCHEMES[panel.theme.look]}">
<meta name="nolvi-fingerprint" content="${print}">
${standInPath ? `<meta name="nolvi-wire" content="${html(standInPath)}">\n` : ''}${site ? '<meta name="nolvi-site" content="yes">\n<link rel="manifest" href="manifest.webmanifest">\n' : ''}<link rel="icon" href="data:,">
<title>${html(`${panel.name} - ${design.name}`)}</title>
<style>${style}</style>
</head>
<body>
<main class="np${panel.theme.look === 'night' ? ' np-night' : ''}">
<p class="np-stale" role="alert" hidden></p>
<header class="np-head">${title}${tabs}<div class="np-link" data-up="false" role="status"><span>not connected</span><i class="np-dot"></i></div></header>
${iconNotice(pages)}${pages}
<footer class="np-foot"><span dir="auto">${html(several ? `${panel.name}, ${design.name}` : panel.name)}</span><code title="Fingerprint of the table">${print}</code></footer>
</main>
<script type="application/json" id="nolvi-config">${scriptJson({ design: onlyPanel(design, surfaceId), surfaceId, print, ...(secret === undefined ? {} : { secret }) })}</script>
<script>${script}</script>
</body>
</html>
`
}

/** Whether a page has something to set: where its controller is, or what proves a command. */
function hasSettings(link: Link): boolean {
  return speaksRoutes(link) || link.auth.kind !== 'none'
}

/**
 * Nothing but the page's own script and style runs; it speaks to its controller, wherever that was
 * said to be.
 */
function policy(link: Link, style: string, script: string, site: boolean): string {
  const own = (text: string) => `'sha256-${base64(sha256(utf8ToBytes(text)))}'`
  return [
    "default-src 'none'",
    `script-src ${own(script)}`,
    `style-src ${own(style)}`,
    'img-src data:',
    "base-uri 'none'",
    "form-action 'none'",
    `connect-src 'self'${speaksRoutes(link) ? ' http: https:' : ''}`,
    ...(site ? ["manifest-src 'self'", "worker-src 'self'"] : []),
  ].join('; ')
}

/** The picture of a value is there while its box shows that value, certain or not. */
function picturesShown(design: Design, { id, form, loadId }: PanelKey): string[] {
  if (form !== 'shown') return []
  const at = (mark: string, value: string) =>
    `[data-id="${id}"][data-shown="${mark}${value}"] [data-is="${value}"]`
  return picturesOf(loadOf(design, loadId).output).map(
    c => `${at('', c.id)},${at('stale-', c.id)}{display:block}`,
  )
}

/** Places, colours and sizes of this panel. */
function pageStyle(design: Design, panel: PanelSurface): string {
  const device = deviceOf(panel)
  const { theme } = panel
  const link = linkOf(design, panel.linkId)
  const foot = link.auth.kind !== 'none' || speaksBytes(link) ? FOOT_MM : 0
  const rules = (night: boolean) =>
    Object.entries(themeProperties(theme, night))
      .map(([key, value]) => `${key}:${value}`)
      .join(';')
  const night = `{${NIGHT_SIGNALS};${rules(true)}}`
  return [
    `.np{--least:.75rem;${glass(device, foot)};${SIZES()};margin:0 auto;${rules(theme.look === 'night')}}`,
    `@supports not (height:100dvh){.np{--seen:100vh}}`,
    `html,body{margin:0;background:${theme.look === 'night' ? theme.nightPaper : theme.paper}}body{padding:env(safe-area-inset-top) 0 env(safe-area-inset-bottom)}`,
    ...(theme.look === 'auto'
      ? [`@media (prefers-color-scheme:dark){html,body{background:${theme.nightPaper}}.np${night}}`]
      : []),
    ...panel.keys.flatMap(k => picturesShown(design, k)),
    PLACES,
    ...itemsOf(panel).map(place),
    ...lying(design, panel, foot),
  ].join('\n')
}

/**
 * A millimetre across, and one down: the whole height fits what is seen of the screen, between what
 * is still hit and what is still pleasant. `--seen`: without the bars of the browser; `--W`, `--H`:
 * of the glass, mm.
 */
const SIZES = () =>
  [
    '--seen:100dvh',
    '--fit:calc((var(--seen) - env(safe-area-inset-top,0px) - env(safe-area-inset-bottom,0px))/var(--H))',
    `--mm:min(100vw/var(--W),6px,var(--fit)/${LEAST_DOWN})`,
    `--my:min(var(--fit),${MOST_DOWN}*var(--mm))`,
    'width:calc(var(--W)*var(--mm))',
    'min-height:calc(var(--H)*var(--my))',
  ].join(';')
const glass = ({ widthMm, heightMm }: Glass, foot: number) =>
  `--W:${widthMm};--H:${heightMm + foot}`
/** A foot with something to press stands below the glass, mm. */
const FOOT_MM = 6
/** Shares of a millimetre down by one across. */
const LEAST_DOWN = 0.72
const MOST_DOWN = 1.35

/** Where boxes stand: across by one measure, down by the other. */
const PLACES =
  '.np-box{left:calc(var(--x)*var(--mm));top:calc(var(--y)*var(--my));width:calc(var(--w)*var(--mm));height:calc(var(--h)*var(--my))}'

function place({ id, xMm, yMm, widthMm, heightMm }: PanelItem): string {
  return `[data-id="${id}"]{--x:${xMm};--y:${yMm};--w:${widthMm};--h:${heightMm}}`
}

/** A phone that is laid on its side has the same panel as wide as it is then, page by page. */
function lying(design: Design, panel: PanelSurface, foot: number): string[] {
  if (panel.landscape || !deviceOf(panel).oneHand) return []
  const turned = { ...panel, landscape: true }
  const layout = refit(design, turned)
  const items = itemsOf({ ...turned, ...layout })
  const isSame = itemsOf(panel).every(i => items.find(o => o.id === i.id)?.page === i.page)
  return isSame
    ? [
        `@media (orientation:landscape) and (max-height:520px){.np{${glass(deviceOf(turned), foot)}}`,
        ...items.map(place),
        '}',
      ]
    : []
}

/**
 * The part of the design that the page needs: what it can say and hear. Wiring, notes and networks
 * are nobody's business there.
 */
function onlyPanel(design: Design, surfaceId: string): object {
  const panel = panelOf(design, surfaceId)
  const link = linkOf(design, panel.linkId)
  const told = new Set((link.readings as LinkReading[]).map(r => r.sensorId))
  const { id, kind, linkId, pollMs, belief } = panel
  return {
    id: design.id,
    // How a load is wired, and how it starts, is nobody's business there.
    loads: design.loads.map(({ id: loadId, output }) => ({
      id: loadId,
      output: {
        ...output,
        pin: undefined,
        activeLevel: undefined,
        powerUp: undefined,
        saveDelayMs: undefined,
        limits: undefined,
        // Pictures stand in the page once.
        ...(isChoice(output)
          ? { choices: output.choices.map(c => ({ ...c, picture: undefined })) }
          : {}),
      },
    })),
    links: [spoken(link)],
    surfaces: [{ id, kind, linkId, pollMs, belief }],
    sensors: design.sensors.filter(s => told.has(s.id)).map(s => ({ id: s.id })),
    scenes: design.scenes.filter(s => (link.scenes[s.id] ?? '') !== ''),
  }
}

/** What a page needs of its link: nothing of the board's queue, nor of the board's own page. */
function spoken(link: Link): object {
  const plain = { ...link, controllerId: undefined, queue: undefined }
  if (!speaksRoutes(link)) return plain
  return {
    ...plain,
    page: undefined,
    bodies: link.bodies === 'none' ? undefined : link.bodies,
  }
}
