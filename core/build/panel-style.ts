/**
 * The style of a panel page, shared by the built page and its preview. All lengths are in `--mm`, the width of one
 * millimetre of glass, so that a key has its size on every screen. State has a shape beside its tone: filled = on,
 * hollow = off, half = waiting, hatched = not sure.
 */
export const PANEL_STYLE = `
.np{--mm:5px;--paper:#f5f1e8;--raised:#fcfaf5;--ink:#24211d;--second:#655e53;--rule:#c4baa8;--wait:#9a6a12;--waitbg:#f1e3c4;--differs:#bf3f22;--step:#17705f;position:relative;background:var(--raised);color:var(--ink);font-family:"Atkinson Hyperlegible Next Variable","Atkinson Hyperlegible Next",system-ui,sans-serif;font-size:calc(3.1*var(--mm));line-height:1.2;overflow:hidden;-webkit-tap-highlight-color:transparent}
.np.np-night{--paper:#1d1b18;--raised:#262320;--ink:#f0eadd;--second:#b5ab9b;--rule:#5b5449;--wait:#e0b45c;--waitbg:#453818;--differs:#f08a6c;--step:#5cc3ad}
.np *{box-sizing:border-box}
.np-head{position:absolute;left:calc(3*var(--mm));right:calc(3*var(--mm));top:calc(3*var(--mm));height:calc(8*var(--mm));display:flex;align-items:center;justify-content:space-between;gap:calc(2*var(--mm))}
.np-head h1{margin:0;font-size:calc(3.8*var(--mm));font-weight:700;white-space:nowrap;overflow:hidden;text-overflow:ellipsis}
.np-link{font-size:calc(2.7*var(--mm));color:var(--second);white-space:nowrap;display:flex;align-items:center;gap:calc(1*var(--mm))}
.np-dot{width:calc(2.6*var(--mm));height:calc(2.6*var(--mm));border-radius:50%;border:calc(.4*var(--mm)) solid currentColor;flex:none}
.np-link[data-up="true"] .np-dot{background:var(--step);border-color:var(--step)}
.np-box{position:absolute}
.np-key{position:absolute;inset:0;width:100%;height:100%;font:inherit;text-align:left;color:var(--ink);background:var(--raised);border:calc(.4*var(--mm)) solid var(--ink);border-radius:calc(1.6*var(--mm));padding:calc(1.2*var(--mm)) calc(1.8*var(--mm));display:flex;flex-direction:column;justify-content:space-between;cursor:pointer;overflow:hidden;touch-action:manipulation}
.np-key:focus-visible{outline:calc(.8*var(--mm)) solid #2b4a6f;outline-offset:calc(.4*var(--mm))}
.np-night .np-key:focus-visible{outline-color:#9fc2ea}
.np-name{flex:none;font-weight:700;overflow:hidden;text-overflow:ellipsis}
.np-state{display:flex;align-items:center;justify-content:space-between;gap:calc(1*var(--mm));font-size:calc(2.6*var(--mm));color:inherit}
.np-shape{width:calc(3.2*var(--mm));height:calc(3.2*var(--mm));border-radius:50%;border:calc(.45*var(--mm)) solid currentColor;flex:none}
[data-lit="true"]>.np-key,.np-half[data-marked="true"]{background:var(--ink);color:var(--raised)}
[data-lit="true"] .np-shape{background:currentColor}
[data-shown="waiting"]>.np-key{background:var(--waitbg);border-color:var(--wait)}
[data-shown="waiting"] .np-shape{background:linear-gradient(90deg,currentColor 50%,transparent 50%)}
[data-shown="unknown"] .np-key,[data-shown^="stale"] .np-key{border-style:dashed;border-color:var(--second)}
[data-shown="unknown"] .np-shape,[data-shown^="stale"] .np-shape{background:repeating-linear-gradient(135deg,currentColor 0 calc(.4*var(--mm)),transparent calc(.4*var(--mm)) calc(1*var(--mm)))}
.np-pairhead{position:absolute;left:0;right:0;top:0;height:calc(6*var(--mm));display:flex;align-items:center;justify-content:space-between;gap:calc(2*var(--mm));white-space:nowrap}
.np-pairhead .np-state{gap:calc(1.4*var(--mm));color:var(--second)}
.np-row{position:absolute;left:0;right:0;top:calc(6*var(--mm));bottom:0;display:grid;grid-auto-rows:1fr;gap:calc(1*var(--mm))}
.np-half{position:static;width:auto;height:auto;padding:0;align-items:center;justify-content:center;font-weight:700;font-size:calc(2.9*var(--mm))}
.np-hold{touch-action:none;user-select:none;-webkit-user-select:none;border-bottom-width:calc(1.4*var(--mm))}
.np-key:disabled{cursor:default;opacity:1}
.np-foot{position:absolute;left:calc(3*var(--mm));right:calc(3*var(--mm));bottom:calc(1*var(--mm));font-size:calc(2.3*var(--mm));color:var(--second);display:flex;justify-content:space-between;gap:calc(2*var(--mm));align-items:center}
.np-foot code{font-family:"Atkinson Hyperlegible Mono Variable",ui-monospace,monospace}
.np-foot button,.np-foot input{font:inherit;color:var(--ink);background:var(--raised);border:1px solid var(--rule);border-radius:calc(1*var(--mm));padding:calc(.8*var(--mm)) calc(1.4*var(--mm));min-height:calc(7*var(--mm))}
.np-foot input{flex:1;min-width:0}
`.trim()
