/**
 * What somebody without a key sees: a field for the code. It tells nothing about what is behind it.
 */
export const PAIR_SCRIPT = `
const form = document.querySelector('form'), code = document.querySelector('input'), says = document.querySelector('[role=status]')
async function pair() {
  says.textContent = 'One moment ...'
  const answer = await fetch('/api/pair', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ code: code.value, name: navigator.userAgentData?.platform || navigator.platform || '' }) }).catch(() => null)
  if (answer?.ok) return location.replace(location.pathname)
  const problem = await answer?.json().catch(() => null)
  says.textContent = problem?.problems?.[0]?.message ?? 'Nobody answers: is the server still running?'
  code.select()
}
form.addEventListener('submit', event => { event.preventDefault(); pair() })
const given = /^#code=(\\d{6})$/.exec(location.hash)?.[1]
if (given) { code.value = given; pair() }
code.focus()
`

export const PAIR_STYLE = `
:root{--paper:#f5f1e8;--raised:#fcfaf5;--ink:#24211d;--second:#655e53;--differs:#9e3b1f}
@media (prefers-color-scheme:dark){:root{--paper:#1a1815;--raised:#262320;--ink:#f0eadd;--second:#b5ab9b;--differs:#f08a6c}}
body{margin:0;background:var(--paper);color:var(--ink);font:17px/1.45 system-ui,sans-serif}
main{max-width:22rem;margin:0 auto;padding:14vh 1.2rem 2rem;display:grid;gap:1rem}
h1{font-size:1.5rem;margin:0}p{margin:0;color:var(--second)}
form{display:grid;gap:.7rem}label{display:grid;gap:.4rem;font-weight:650}
input{font:650 2rem/1 ui-monospace,monospace;letter-spacing:.3em;padding:.6rem .7rem;width:100%;box-sizing:border-box;border:2px solid var(--ink);border-radius:6px;background:var(--raised);color:inherit}
button{font:inherit;font-weight:650;width:100%;min-height:3.2rem;border:0;border-radius:6px;background:var(--ink);color:var(--paper);cursor:pointer}
:focus-visible{outline:3px solid var(--differs);outline-offset:2px}
[role=status]{min-height:1.5em;margin-top:.2rem;color:var(--differs)}
`

export function pairPage(): string {
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="color-scheme" content="light dark"><link rel="icon" href="data:,"><title>Pair this device</title><style>${PAIR_STYLE}</style></head>
<body><main><h1>Pair this device</h1><p>The code stands in the terminal where Nolvi was started, and under Devices on one that is paired already.</p>
<form><label>Code of six digits<input name="code" inputmode="numeric" autocomplete="one-time-code" maxlength="7" required></label>
<p role="status"></p>
<button>Pair</button></form></main>
<script>${PAIR_SCRIPT}</script></body></html>
`
}
