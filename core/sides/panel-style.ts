/**
 * The style of a panel page, shared by the built page and its preview. All lengths are in `--mm`,
 * the width of one millimetre of glass, so that a key has its size on every screen. State has a
 * shape beside its tone: filled = on, hollow = off, half = waiting, hatched = not sure. `--raised`,
 * `--ink`, `--round` and `--text` come from the theme.
 */
import type { PanelItem } from '../design/schema'
import type { StylePart } from './forms/facet'
import { lookOf } from './forms/rows'

/** Signals by night; ground and ink come from the theme. */
export const NIGHT_SIGNALS =
  '--wait:#e0b45c;--differs:#f08a6c;--step:#5cc3ad;--cursor:#9fc2ea;--r0:#5cc3ad;--r1:#e0b45c;--r2:#9fc2ea;--r3:#d59ac4'

const KEYS = `
.np{--mm:5px;--my:var(--mm);--least:0px;--s:max(var(--least),2.6*var(--mm));--raised:#fcfaf5;--ink:#24211d;--lit:var(--ink);--round:calc(1.6*var(--mm));--text:calc(3.1*var(--mm));--wait:#9a6a12;--r0:#17705f;--r1:#b07a1c;--r2:#3d6aa3;--r3:#8a4a78;--differs:#bf3f22;--step:#17705f;--cursor:#2b4a6f;--second:color-mix(in srgb,var(--ink) 72%,var(--raised));--rule:color-mix(in srgb,var(--ink) 28%,var(--raised));--waitbg:color-mix(in srgb,var(--wait) 20%,var(--raised));position:relative;background:var(--raised);color:var(--ink);font-family:"Atkinson Hyperlegible Next Variable","Atkinson Hyperlegible Next",system-ui,sans-serif;font-size:max(var(--least),var(--text));line-height:1.2;overflow:hidden;-webkit-tap-highlight-color:transparent}
.np.np-night{${NIGHT_SIGNALS}}
.np *{box-sizing:border-box}
.np-head{position:absolute;left:calc(3*var(--mm));right:calc(3*var(--mm));top:calc(2*var(--my));height:calc(10*var(--my));display:flex;align-items:center;justify-content:space-between;gap:calc(2*var(--mm))}
.np-head h1,.np-title{margin:0;font-size:max(var(--least),3.8*var(--mm));font-weight:700;white-space:nowrap;overflow:hidden;text-overflow:ellipsis;min-width:0}
.np-link{font-size:var(--s);color:var(--second);display:flex;align-items:center;gap:calc(1*var(--mm));text-align:right;max-width:60%}
.np-dot{width:calc(2.6*var(--mm));height:calc(2.6*var(--mm));border-radius:50%;border:calc(.4*var(--mm)) solid currentColor;flex:none}
.np-link[data-up="true"] .np-dot{background:var(--step);border-color:var(--step)}
.np-link[data-refused="true"]{color:var(--ink);font-weight:700}
.np-link[data-refused="true"] .np-dot{background:repeating-linear-gradient(45deg,var(--ink) 0 1px,transparent 1px 3px);border-color:var(--ink)}
.np-page[hidden]{display:none}
.np-box{position:absolute}
.np-key{position:absolute;inset:0;width:100%;height:100%;font:inherit;text-align:start;color:var(--ink);background:var(--raised);border:calc(.4*var(--mm)) solid var(--ink);border-radius:var(--round);padding:calc(1.2*var(--mm)) calc(1.8*var(--mm));display:flex;flex-direction:column;justify-content:space-between;cursor:pointer;overflow:hidden;touch-action:manipulation}
.np :focus-visible{outline:calc(.8*var(--mm)) solid var(--cursor);outline-offset:calc(.4*var(--mm))}
.np-name{font-weight:700;overflow:hidden;text-overflow:ellipsis;min-height:0;max-width:100%}
.np-state{flex:none;display:flex;align-items:center;justify-content:space-between;gap:calc(1*var(--mm));font-size:var(--s);color:inherit}
.np-shape{width:calc(3.2*var(--mm));height:calc(3.2*var(--mm));border-radius:50%;border:calc(.45*var(--mm)) solid currentColor;flex:none}
[data-lit="true"]>.np-key,.np-half[data-marked="true"]{background:var(--lit);border-color:var(--lit);color:var(--raised)}
[data-lit="true"] .np-shape{background:currentColor}
[data-shown="waiting"]>.np-key{background:repeating-linear-gradient(-45deg,var(--waitbg) 0 calc(2*var(--mm)),var(--raised) 0 calc(4*var(--mm)));border:calc(.4*var(--mm)) dashed var(--wait)}
[data-shown="waiting"] .np-shape{background:linear-gradient(90deg,currentColor 50%,transparent 50%)}
[data-shown="unknown"] .np-key,[data-shown^="stale"] .np-key{border-style:dashed;border-color:var(--second)}
[data-shown="unknown"] .np-shape,[data-shown^="stale"] .np-shape{background:repeating-linear-gradient(135deg,currentColor 0 calc(.4*var(--mm)),transparent calc(.4*var(--mm)) calc(1*var(--mm)))}
.np-pairhead{position:absolute;left:0;right:0;top:0;height:calc(6*var(--mm));display:flex;align-items:center;justify-content:space-between;gap:calc(2*var(--mm));white-space:nowrap}
.np-pairhead .np-state{gap:calc(1.4*var(--mm));color:var(--second)}
.np-key:disabled{cursor:default;opacity:1}
.np-key:active:not(:disabled){translate:0 calc(.4*var(--mm));scale:.98}
@media (prefers-reduced-motion:reduce){.np-key:active:not(:disabled){translate:none;scale:none}}
@media (prefers-contrast:more){.np{--second:var(--ink);--rule:var(--ink)}.np-key{border-width:calc(.7*var(--mm))}}
@media (forced-colors:active){[data-lit="true"]>.np-key,.np-half[data-marked="true"]{forced-color-adjust:none;background:Highlight;color:HighlightText}}
.np-stale{position:absolute;left:0;right:0;top:0;z-index:3;margin:0;padding:calc(1.6*var(--mm)) calc(3*var(--mm));background:var(--raised);color:var(--differs);font-weight:700;font-size:var(--s);border-bottom:calc(.6*var(--mm)) solid var(--differs)}
.np-foot{position:absolute;left:calc(3*var(--mm));right:calc(3*var(--mm));bottom:0;min-height:calc(3*var(--my));font-size:max(var(--least),2.3*var(--mm));line-height:1;color:var(--second);display:flex;justify-content:space-between;gap:calc(2*var(--mm));align-items:center}
.np-foot code{font-family:"Atkinson Hyperlegible Mono Variable",ui-monospace,monospace}
.np-foot button,.np-foot input{font:inherit;font-size:var(--s);color:var(--ink);background:var(--raised);border:1px solid var(--rule);border-radius:calc(1*var(--mm));padding:0 calc(1.4*var(--mm));min-height:calc(7.4*var(--my))}
`.trim()

/** What is more than keys and lines, by what needs it. */
const MORE: Record<StylePart, string> = {
  tabs: `
.np-tabs{display:flex;gap:calc(1*var(--mm));min-width:0;overflow:auto}
.np-tabs button{font:inherit;color:var(--second);background:none;border:0;border-bottom:calc(.6*var(--mm)) solid transparent;min-width:calc(10*var(--mm));min-height:calc(9.5*var(--mm));padding:0 calc(1.4*var(--mm));white-space:nowrap;cursor:pointer}
.np-tabs button[aria-current]{color:var(--ink);font-weight:700;border-color:var(--ink)}
`,
  behind: `
.np-behind{position:absolute;left:0;right:0;top:calc(13*var(--my));bottom:0;width:100%;height:calc(100% - 13*var(--my));object-fit:cover}
`,
  row: `
.np-row{position:absolute;left:0;right:0;top:calc(6*var(--mm));bottom:0;display:grid;grid-auto-rows:1fr;gap:calc(1*var(--mm))}
.np-across-1{grid-template-columns:1fr}.np-across-2{grid-template-columns:repeat(2,1fr)}.np-across-3{grid-template-columns:repeat(3,1fr)}.np-across-4{grid-template-columns:repeat(4,1fr)}.np-across-5{grid-template-columns:repeat(5,1fr)}
.np-half{position:static;width:auto;height:auto;padding:0;align-items:center;justify-content:center;font-weight:700;font-size:max(var(--least),2.9*var(--mm))}
`,
  scene: `
.np-scene{border-style:double;border-width:calc(1*var(--mm));align-items:center;justify-content:center;text-align:center}
`,
  text: `
.np-text{margin:0;font-weight:700;overflow:hidden;height:100%}
`,
  line: `
.np-line{margin:0;height:100%;overflow:hidden;font-size:var(--s);border-left:calc(.8*var(--mm)) solid var(--rule);padding-left:calc(1.6*var(--mm));display:flex;align-items:center}
`,
  settings: `
.np-foot label{display:grid;gap:calc(1*var(--mm))}
.np-foot summary{cursor:pointer;color:var(--ink);padding:calc(2*var(--mm)) 0}
.np-foot details>div{position:absolute;inset:auto 0 100% 0;z-index:2;display:grid;gap:calc(2*var(--mm));padding:calc(3*var(--mm));background:var(--raised);border:calc(.4*var(--mm)) solid var(--ink);font-size:var(--s)}
`,
  icon: `
.np-icon{width:calc(4.2*var(--mm));height:calc(4.2*var(--mm));margin-inline-end:calc(1*var(--mm));vertical-align:calc(-.9*var(--mm));fill:none;stroke:currentColor;stroke-width:2;stroke-linecap:round;stroke-linejoin:round}
`,
  field: `
.np-two{grid-template-columns:repeat(2,1fr)}
.np-split{display:grid;grid-auto-flow:column;grid-auto-columns:1fr;gap:calc(1*var(--mm))}
.np-field{font:inherit;font-weight:700;width:100%;min-width:0;height:100%;color:var(--ink);background:var(--raised);border:calc(.4*var(--mm)) solid var(--rule);border-radius:var(--round);padding:0 calc(1.8*var(--mm))}
.np-time{display:flex;align-items:center;gap:calc(1.4*var(--mm))}
`,
  fader: `
.np-fader{appearance:none;-webkit-appearance:none;width:100%;height:100%;margin:0;background:linear-gradient(var(--rule),var(--rule)) center/100% calc(1*var(--mm)) no-repeat;touch-action:none;cursor:pointer}
.np-fader::-webkit-slider-thumb{-webkit-appearance:none;width:calc(10*var(--mm));height:calc(10*var(--mm));border-radius:var(--round);border:calc(.4*var(--mm)) solid var(--ink);background:var(--raised)}
.np-fader::-moz-range-thumb{width:calc(9.2*var(--mm));height:calc(9.2*var(--mm));border-radius:var(--round);border:calc(.4*var(--mm)) solid var(--ink);background:var(--raised)}
[data-lit="true"] .np-fader::-webkit-slider-thumb{background:var(--lit)}
[data-lit="true"] .np-fader::-moz-range-thumb{background:var(--lit)}
[data-shown="waiting"] .np-fader::-webkit-slider-thumb{background:var(--waitbg);border-color:var(--wait)}
`,
  lock: `
.np-lock[type="range"]{appearance:none;-webkit-appearance:none;width:100%;height:100%;margin:0;background:linear-gradient(var(--rule),var(--rule)) center/100% calc(1*var(--mm)) no-repeat;touch-action:none;cursor:pointer}
[data-guard="slide"]>.np-key,[data-guard="pin"]>.np-key,[data-guard="slide"]>.np-row,[data-guard="pin"]>.np-row{bottom:calc(9*var(--mm));height:auto}
.np-lock{position:absolute;left:0;bottom:0;width:100%;height:calc(8*var(--mm))}
.np-lock[type="range"]{height:calc(8*var(--mm));border:calc(.3*var(--mm)) dashed var(--second);border-radius:var(--round);background:none}
.np-lock::-webkit-slider-thumb{-webkit-appearance:none;width:calc(12*var(--mm));height:calc(7.4*var(--mm));border-radius:var(--round);background:var(--ink)}
.np-lock::-moz-range-thumb{width:calc(12*var(--mm));height:calc(7*var(--mm));border:0;border-radius:var(--round);background:var(--ink)}
.np-lock[type="password"]{font:inherit;color:var(--ink);background:var(--raised);border:calc(.3*var(--mm)) dashed var(--second);border-radius:var(--round);padding:0 calc(1.8*var(--mm))}
.np-slide{position:absolute;left:calc(13*var(--mm));right:0;bottom:0;height:calc(8*var(--mm));display:flex;align-items:center;justify-content:center;font-size:var(--s);color:var(--second);pointer-events:none}
[data-open="true"]>.np-slide{visibility:hidden}
[data-open="true"]>.np-lock{border-style:solid;border-color:var(--step)}
[data-guard]:not([data-open="true"])>.np-key:not([data-free="true"]){border-style:dashed}
`,
  rooms: `
[data-room="0"]{--room:var(--r0)}[data-room="1"]{--room:var(--r1)}[data-room="2"]{--room:var(--r2)}[data-room="3"]{--room:var(--r3)}
[data-room]>.np-key::before,[data-room]>.np-pairhead::before{content:"";position:absolute;inset-block:0;inset-inline-start:0;width:calc(1.2*var(--mm));background:var(--room)}
[data-room]>.np-pairhead{padding-inline-start:calc(2*var(--mm))}
`,
  tall: `
.np-tall{padding:calc(2.4*var(--mm)) calc(2.8*var(--mm))}
.np-tall .np-name{font-size:max(var(--least),1.15*var(--text))}
.np-tall .np-icon{display:block;width:calc(8*var(--mm));height:calc(8*var(--mm));margin:0 0 calc(1.4*var(--mm));stroke-width:1.6}
`,
  held: `
.np-hold{touch-action:none;user-select:none;-webkit-user-select:none;border-bottom-width:calc(1.4*var(--mm))}
[data-guard="hold"] .np-key,[data-guard="unlock"] .np-key{touch-action:none;user-select:none;-webkit-user-select:none}
.np-key[data-holding]{background:linear-gradient(90deg,var(--waitbg) 50%,transparent 50%) 100% 0/200% 100% no-repeat var(--raised);animation:np-hold 1s linear forwards;color:var(--ink)}
@keyframes np-hold{to{background-position:0 0}}
@media (prefers-reduced-motion:reduce){.np-key[data-holding]{animation-duration:1s;animation-timing-function:steps(4)}}
`,
  figure: `
.np-figure{display:flex;align-items:baseline;gap:calc(1*var(--mm));white-space:nowrap}
.np-value{font-weight:700;font-variant-numeric:tabular-nums}
.np-unit{font-size:var(--s);color:var(--second)}
[data-sensor][data-shown="unknown"] .np-value,[data-sensor][data-shown="stale"] .np-value{color:var(--second);font-weight:400;text-decoration:underline dashed calc(.3*var(--mm));text-underline-offset:calc(.8*var(--mm))}
`,
  readout: `
.np-large{position:absolute;left:0;bottom:0}
.np-large .np-value{font-size:max(var(--least),6.5*var(--mm));line-height:1}
[data-form="readout"]{border-top:calc(.3*var(--mm)) solid var(--rule);padding-top:calc(.8*var(--mm))}
`,
  shown: `
[data-form="shown"]{border-top:calc(.3*var(--mm)) solid var(--rule);padding-top:calc(.8*var(--mm))}
.np-shown{position:absolute;inset:calc(6*var(--mm)) 0 0;display:flex;gap:calc(2*var(--mm));align-items:center}
.np-shown .np-words{font-size:max(var(--least),5*var(--mm));line-height:1.15}
.np-shown img{display:none;height:100%;max-width:50%;object-fit:contain}
[data-shown="unknown"]>.np-shown .np-words,[data-shown^="stale"]>.np-shown .np-words{color:var(--second);font-weight:400}
`,
  gauge: `
[data-beyond="true"] .np-value{color:var(--differs)}
.np-gauge{position:absolute;left:0;right:0;top:calc(6.6*var(--mm));bottom:calc(4.6*var(--mm));border:calc(.3*var(--mm)) solid var(--ink);border-radius:calc(.6*var(--mm));overflow:hidden}
.np-gauge i{position:absolute;top:0;bottom:0;left:0}
.np-gauge .np-level{background:var(--ink);width:calc(1.2*var(--mm));margin-left:calc(-.6*var(--mm))}
.np-beyond{background:repeating-linear-gradient(135deg,var(--differs) 0 calc(.4*var(--mm)),transparent calc(.4*var(--mm)) calc(1.4*var(--mm)));width:0}
.np-gauge .np-above{left:auto;right:0}
`,
  chart: `
.np-chart{position:absolute;left:0;top:calc(6.6*var(--mm));width:100%;height:calc(100% - 11.2*var(--mm));border-left:calc(.3*var(--mm)) solid var(--ink);border-bottom:calc(.3*var(--mm)) solid var(--ink)}
.np-chart path{fill:none;stroke:currentColor;stroke-width:calc(.5*var(--mm));vector-effect:non-scaling-stroke}
`,
  column: `
.np-tank{position:absolute;left:25%;right:25%;top:calc(7*var(--mm));bottom:0;border:calc(.4*var(--mm)) solid var(--ink);border-top:0;border-radius:0 0 var(--round) var(--round);}
.np-tank .np-level{position:absolute;left:0;right:0;bottom:0;height:0;max-height:100%;background:var(--ink);border-radius:0 0 calc(var(--round) - .4*var(--mm)) calc(var(--round) - .4*var(--mm))}
.np-tick{position:absolute;left:calc(-3*var(--mm));width:calc(2.4*var(--mm));border-top:calc(.3*var(--mm)) solid var(--second)}
[data-broken="true"] .np-tank{background:repeating-linear-gradient(135deg,var(--differs) 0 calc(.4*var(--mm)),transparent calc(.4*var(--mm)) calc(1.4*var(--mm)))}
[data-broken="true"] .np-value{color:var(--differs)}
`,
  tilt: `
.np-tilt{position:absolute;left:0;right:0;top:calc(6.6*var(--mm));bottom:0;border:calc(.3*var(--mm)) solid var(--ink);border-radius:var(--round);background:linear-gradient(var(--rule),var(--rule)) center/calc(.3*var(--mm)) 100% no-repeat,linear-gradient(var(--rule),var(--rule)) center/100% calc(.3*var(--mm)) no-repeat}
.np-at{position:absolute;left:50%;top:50%;width:calc(4*var(--mm));height:calc(4*var(--mm));margin:calc(-2*var(--mm)) 0 0 calc(-2*var(--mm));border-radius:50%;background:var(--ink)}
`,
  countdown: `
[data-form="countdown"] .np-key{border-style:solid;border-color:var(--ink)}
[data-running="true"] .np-key[data-want="go"]{background:var(--ink);color:var(--raised)}
[data-over="true"]{animation:np-over 1s steps(2,jump-none) infinite}
[data-over="true"] .np-value{color:var(--differs)}
@keyframes np-over{to{outline:calc(.8*var(--mm)) solid var(--differs)}}
@media (prefers-reduced-motion:reduce){[data-over="true"]{animation:none;outline:calc(.8*var(--mm)) solid var(--differs)}}
`,
  ends: `
.np-ends{position:absolute;left:0;right:0;bottom:0;display:flex;justify-content:space-between;font-size:var(--s);color:var(--second)}
`,
}

/** Parts of the style by a class of the markup that needs them. */
const BY_CLASS = ['tabs', 'behind', 'row', 'scene', 'text', 'line', 'tall'] as const
const ROOM_MARK = 'data-room='

/** The parts that a markup needs beside those of its forms. */
export function stylesIn(markup: string): StylePart[] {
  const parts: StylePart[] = BY_CLASS.filter(part => markup.includes(`np-${part}`))
  return markup.includes(ROOM_MARK) ? [...parts, 'rooms'] : parts
}

/** The style of a panel: what its parts need and no more. */
export function styleFor(items: readonly PanelItem[], more: readonly StylePart[] = []): string {
  const needed = new Set<StylePart>([
    ...more,
    ...items.flatMap(i => [...lookOf(i.form).style, ...guardNeeds(i), ...iconNeeds(i)]),
  ])
  return [
    KEYS,
    ...(Object.keys(MORE) as StylePart[]).filter(k => needed.has(k)).map(k => MORE[k].trim()),
  ].join('\n')
}

function iconNeeds(item: PanelItem): readonly StylePart[] {
  return 'icon' in item && item.icon !== 'none' ? ['icon'] : []
}

function guardNeeds(item: PanelItem): readonly StylePart[] {
  if (!('guard' in item) || item.guard === 'none') return []
  return item.guard === 'slide' || item.guard === 'pin' ? ['lock'] : ['held']
}

/** All of it, for canvases where anything may be placed. */
export const PANEL_STYLE = [KEYS, ...Object.values(MORE).map(text => text.trim())].join('\n')
