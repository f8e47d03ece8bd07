/** The panel page: one HTML file without any outside request, the same behaviour as on bench and in the proof. */
import { linkOf, loadOf, panelOf } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { DEFAULT_WIRING, type Design, type PanelKey } from '../design/schema'
import { wantsOf } from '../design/values'
import { deviceOf } from '../panels/devices'
import { isRow, KEYS_IN_ROW } from '../panels/layout'
import { wantLabel } from '../panels/words'
import { html, scriptJson } from './escape'
import { PANEL_RUNTIME, SIGNING_RUNTIME } from './panel-runtime'
import { PANEL_STYLE } from './panel-style'

/** `standInPath`: where a stand-in offers the bytes of a link. `secret`: left out, the page asks for it once. Both are left out in the page a maker takes away. */
export function panelPage(design: Design, surfaceId: string, { standInPath, secret }: { standInPath?: string | undefined, secret?: string | undefined } = {}): string {
  const panel = panelOf(design, surfaceId)
  const device = deviceOf(panel.device)
  const print = fingerprint(design)
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="color-scheme" content="light dark">
<meta name="nolvi-fingerprint" content="${print}">
${standInPath ? `<meta name="nolvi-wire" content="${html(standInPath)}">\n` : ''}<link rel="icon" href="data:,">
<title>${html(`${panel.name} - ${design.name}`)}</title>
<style>
${PANEL_STYLE}
html,body{margin:0;background:#f5f1e8}
.np{--mm:min(calc(100vw/${device.widthMm}),6px);width:calc(${device.widthMm}*var(--mm));min-height:calc(${device.heightMm}*var(--mm));margin:0 auto}
@media (prefers-color-scheme:dark){html,body{background:#141210}.np{--paper:#1d1b18;--raised:#262320;--ink:#f0eadd;--second:#b5ab9b;--rule:#5b5449;--wait:#e0b45c;--waitbg:#453818;--differs:#f08a6c;--step:#5cc3ad}.np .np-key:focus-visible{outline-color:#9fc2ea}}
</style>
</head>
<body>
<main class="np">
<header class="np-head"><h1>${html(design.name)}</h1><div class="np-link" data-up="false" role="status"><span>not connected</span><i class="np-dot"></i></div></header>
${panel.keys.map(key => keyHtml(design, key)).join('\n')}
<footer class="np-foot"><span>${html(panel.name)}</span><code title="Fingerprint of the table">${print}</code></footer>
</main>
<script type="application/json" id="nolvi-config">${scriptJson({ design: onlyPanel(design, surfaceId), surfaceId, ...(secret === undefined ? {} : { secret }) })}</script>
<script>${linkOf(design, panel.linkId).auth.kind === 'none' ? PANEL_RUNTIME : SIGNING_RUNTIME}</script>
</body>
</html>
`
}

function keyHtml(design: Design, key: PanelKey): string {
  const load = loadOf(design, key.loadId)
  const at = `left:calc(${key.xMm}*var(--mm));top:calc(${key.yMm}*var(--mm));width:calc(${key.widthMm}*var(--mm));height:calc(${key.heightMm}*var(--mm))`
  const box = `<div class="np-box" data-load="${design.loads.indexOf(load)}" data-load-id="${html(load.id)}" data-shown="unknown" style="${at}">`
  if (isRow(key.form)) {
    const wants = wantsOf(load.output, key.form)
    const keys = wants.map(want => `<button class="np-key np-half" data-want="${want}" aria-label="${html(`${load.name} ${wantLabel(load.output, want).toLowerCase()}`)}">${html(wantLabel(load.output, want))}</button>`)
    return `${box}<div class="np-pairhead"><span class="np-name">${html(load.name)}</span><span class="np-state"><span class="np-words">not known</span><i class="np-shape"></i></span></div>`
      + `<div class="np-row" style="grid-template-columns:repeat(${Math.min(wants.length, KEYS_IN_ROW)},1fr)">${keys.join('')}</div></div>`
  }
  return `${box}<button class="np-key${key.form === 'hold' ? ' np-hold' : ''}" data-want="${wantsOf(load.output, key.form)[0]}"><span class="np-name">${html(load.name)}</span><span class="np-state"><span class="np-words">not known</span><i class="np-shape"></i></span></button></div>`
}

/** The part of the design that the page needs; loads keep their order, because keys refer to them by index. */
function onlyPanel(design: Design, surfaceId: string): Design {
  const panel = panelOf(design, surfaceId)
  // Wiring, notes, networks and what else is nobody's business there stays at home.
  const loads = design.loads.map(l => ({ ...l, note: '', wiring: DEFAULT_WIRING }))
  return { ...design, loads, surfaces: [panel], links: [linkOf(design, panel.linkId)], boards: [], sensors: [], networks: [], scenes: [], front: null }
}
