/** The stand-in's page of virtual wall controls and lamps. */
import { holdsLoad, targetWords } from '../../core/design/targets'
import { html, scriptJson } from '../../core/sides/escape'
import { fingerprint } from '../../core/design/fingerprint'
import { lampsOf, panels, wiredSurfaces } from '../../core/design/find'
import type { Control, Design, Load, Sensor } from '../../core/design/schema'
import { lampsOfBoxes, sensorsOfBoxes } from '../../core/design/wired'
import type { WallBox } from './box'
import { hasReading, readingWords } from '../../core/design/items'
import { rawRange, readingText, restingRaw, type Raw } from '../../core/controller/readings'
import { restOf, valueWords } from '../../core/design/values'
import type { Program } from '../../core/controller/program'
import type { ControllerState, Level } from '../../core/controller/step'
import { isPulse } from '../../core/design/outputs/traits'
import { isContact, isLadder, isKnob, isReceiver } from '../../core/design/sensors/traits'

export interface WallState {
  running: boolean
  loads: Record<string, { lit: boolean; words: string }>
  closed: Record<string, boolean>
  /** Lamps that nobody switches. */
  lamps: Record<string, boolean>
  sensors: Record<string, { raw: Raw; words: string }>
}

export function wallState(
  program: Program,
  state: ControllerState,
  levers: readonly Level[],
  world: readonly Raw[],
  boxes: readonly WallBox[],
): WallState {
  const wall = worldWall(program, {
    running: state.running,
    values: state.value,
    levers,
    world,
    lit: program.lamps.map((_, i) => state.lamps[i]?.on === true),
  })
  return withBoxes(wall, boxes)
}

/** The wall with what stands on boxes. */
export function withBoxes(wall: WallState, boxes: readonly WallBox[]): WallState {
  for (const box of boxes) {
    for (const { id } of box.peer.controls) wall.closed[id] = box.closed(id)
    Object.assign(wall.lamps, box.lamps)
    Object.assign(
      wall.sensors,
      gives(box.sensors, s => box.raw(s.id)),
    )
  }
  return wall
}

/**
 * What stands on the wall of a board, boxes left out. `values` and `lit` by place of load and lamp;
 * "" = nobody knows the value.
 */
export function worldWall(
  program: Program,
  now: {
    running: boolean
    values: readonly string[]
    levers: readonly Level[]
    world: readonly Raw[]
    lit: readonly boolean[]
  },
): WallState {
  const { running, values, levers, world, lit } = now
  return {
    running,
    loads: Object.fromEntries(
      program.loads.map(({ id, output }, i) => {
        const value = values[i] ?? ''
        const words = value === '' ? '' : valueWords(output, value)
        return [id, { lit: value !== '' && value !== restOf(output), words }]
      }),
    ),
    closed: Object.fromEntries(
      program.inputs.map((input, i) => [input.control.id, levers[i] === 0]),
    ),
    lamps: Object.fromEntries(program.lamps.map(({ lamp }, i) => [lamp.id, lit[i] === true])),
    sensors: gives(program.design.sensors, s => world[program.design.sensors.indexOf(s)]),
  }
}

/** What sensors give, as numbers and in words. */
function gives(
  sensors: readonly Sensor[],
  rawOf: (sensor: Sensor) => Raw | undefined,
): WallState['sensors'] {
  return Object.fromEntries(
    sensors.filter(hasReading).map(s => {
      const raw = rawOf(s)
      return [s.id, { raw: raw ?? [0], words: readingWords(s, readingText(s, raw ?? null)) }]
    }),
  )
}

/** `box`: the name of the box that it is on; "" = on the wall. */
function controlButton(design: Design, load: Load, control: Control, box: string): string {
  const { sceneId } = control
  const held = holdsLoad(control, load.output)
  const does = control.kind === 'latching' ? 'flip' : held ? 'hold' : 'press'
  const asks = control.asks === 'toggle' || isPulse(load.output) || held ? '' : ` ${control.asks}`
  const what = sceneId === null ? asks : ` ${targetWords(design, { sceneId })}`
  return `<button data-control="${html(control.id)}" data-kind="${held || (control.kind === 'push' && control.gestures.length) ? 'held' : control.kind}" aria-label="${does.charAt(0).toUpperCase() + does.slice(1)} ${html(load.name)}${html(what)}${box === '' ? '' : ` on ${html(box)}`}">${does}${html(what)}${box === '' ? '' : `, ${html(box)}`}</button>`
}

/** Lamps that nobody switches. */
function lampTable(design: Design): string {
  const rows = [...lampsOf(design), ...lampsOfBoxes(design)].map(
    l =>
      `<tr data-lamp="${html(l.id)}"><th scope="row">${html(l.name)}</th><td class="lamp" role="status"><i></i><span>dark</span></td></tr>`,
  )
  return rows.length
    ? `<table><thead><tr><th>Lamp</th><th>Now</th></tr></thead><tbody>\n${rows.join('\n')}\n</tbody></table>\n`
    : ''
}

/** Knobs that stand for the world: how warm, how full, how far tilted. */
function sensorTable(sensors: readonly Sensor[]): string {
  const rows = sensors.filter(hasReading).map(s => {
    const { low, high } = rawRange(s)
    const rest = restingRaw(s)
    const knobs = isLadder(s)
      ? s.floats.map(
          (f, i) =>
            `<label><input type="checkbox" data-bit="${i}"${((rest[0] ?? 0) >> i) & 1 ? ' checked' : ''}> wet at ${f.level}</label>`,
        )
      : isContact(s)
        ? ['<label><input type="checkbox" data-bit="0"> closed</label>']
        : rest.map(
            (raw, i) =>
              `<input type="range" min="${low}" max="${high}" value="${raw}" data-axis="${i}" aria-label="${html(s.name)}${rest.length > 1 ? `, axis ${i + 1}` : ''}">`,
          )
    return `<tr data-sensor="${html(s.id)}"><th scope="row">${html(s.name)}</th><td class="gives"></td><td>${knobs.join(' ')}</td></tr>`
  })
  return rows.length
    ? `<table><thead><tr><th>Sensor</th><th>Gives</th><th>The world</th></tr></thead><tbody>\n${rows.join('\n')}\n</tbody></table>\n`
    : ''
}

/** Knobs to turn, and the keys of remotes. */
function handTable(design: Design, sensors: readonly Sensor[]): string {
  const rows = sensors.flatMap(s => {
    const row = (buttons: string) =>
      `<tr data-by-hand="${html(s.id)}"><th scope="row">${html(s.name)}</th><td>${buttons}</td></tr>`
    if (isKnob(s))
      return [
        row(
          `<button data-turn="-1" aria-label="Turn ${html(s.name)} down">↺ down</button> <button data-turn="1" aria-label="Turn ${html(s.name)} up">up ↻</button>`,
        ),
      ]
    if (!isReceiver(s) || !s.keys.length) return []
    const words = (key: (typeof s.keys)[number]) =>
      'loadId' in key
        ? `${design.loads.find(l => l.id === key.loadId)?.name ?? key.loadId} ${key.asks}`
        : targetWords(design, key)
    return [
      row(s.keys.map((key, i) => `<button data-key="${i}">${html(words(key))}</button>`).join(' ')),
    ]
  })
  return rows.length
    ? `<table class="hand"><thead><tr><th>By hand</th><th>Knobs, keys of a remote</th></tr></thead><tbody>\n${rows.join('\n')}\n</tbody></table>\n`
    : ''
}

export function wallPage(design: Design): string {
  const controls = wiredSurfaces(design).flatMap(s =>
    s.controls.map(control => ({ control, box: s.kind === 'peer' ? s.name : '' })),
  )
  const sensors = [...design.sensors, ...sensorsOfBoxes(design).map(s => s.sensor)]
  const rows = design.loads.map(
    load =>
      `<tr data-load="${html(load.id)}"><th scope="row">${html(load.name)}</th><td class="lamp" role="status"><i></i><span>off</span></td><td>${
        controls
          .filter(c => c.control.loadId === load.id)
          .map(c => controlButton(design, load, c.control, c.box))
          .join(' ') || '<span class="none">no hand control</span>'
      }</td></tr>`,
  )
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="color-scheme" content="light dark"><meta name="nolvi-fingerprint" content="${fingerprint(design)}"><link rel="icon" href="data:,"><title>Wall of ${html(design.name)}</title>
<style>
:root{--paper:#f5f1e8;--raised:#fcfaf5;--ink:#24211d;--second:#655e53;--rule:#c4baa8;--cut:#bf3f22}
@media (prefers-color-scheme:dark){:root{--paper:#1a1815;--raised:#262320;--ink:#f0eadd;--second:#b5ab9b;--rule:#5b5449;--cut:#f08a6c}}
body{margin:0;background:var(--paper);color:var(--ink);accent-color:var(--ink);font:16px/1.4 "Atkinson Hyperlegible Next Variable",system-ui,sans-serif}
main{max-width:34rem;margin:0 auto;padding:1.5rem 1rem}h1{font-size:1.3rem;margin:0}p{margin:.2rem 0 1rem;color:var(--second)}
table{border-collapse:collapse;width:100%;table-layout:fixed}th:first-child{width:36%}th:nth-child(2){width:26%}input[type=range]{width:100%;box-sizing:border-box;margin:0}.hand th:nth-child(2){width:64%}.hand td{display:flex;flex-wrap:wrap;gap:.5rem}th,td{text-align:left;padding:.7rem .6rem .7rem 0;border-top:1px solid var(--rule)}
.lamp i{display:inline-block;width:1.2rem;height:1.2rem;border-radius:50%;border:2px solid var(--ink);vertical-align:-.25rem;margin-right:.5rem}
[data-on="true"] .lamp i{background:var(--ink)}
button,a.go{font:inherit;font-weight:700;min-height:2.9rem;min-width:5.5rem;background:var(--raised);color:var(--ink);border:2px solid var(--ink);border-radius:4px;cursor:pointer;padding:0 1rem}
button[data-kind=latching]{border-left-width:10px}button[data-closed=true]{border-left-width:2px;border-right-width:10px}button:active{background:var(--ink);color:var(--raised)}
button.cut{border-color:var(--cut);color:var(--cut)}nav{margin-top:1.2rem;display:flex;gap:1rem;flex-wrap:wrap;align-items:center;border-top:1px solid var(--rule);padding-top:1rem}a{color:inherit}.none{color:var(--second)}
</style></head>
<body><main><h1>Wall of ${html(design.name)}</h1><p>Stand-in: hand controls and lamps as they hang in the room. Fingerprint <code>${fingerprint(design)}</code></p>
<table><thead><tr><th>Load</th><th>Lamp</th><th>Hand control</th></tr></thead><tbody>
${rows.join('\n')}
</tbody></table>
${lampTable(design)}${handTable(design, sensors)}${sensorTable(sensors)}<nav><button class="cut" data-power="cut">cut power</button>${panels(
    design,
  )
    .map(p => `<a href="/panel/${html(p.id)}">${html(p.name)}</a>`)
    .join('')}</nav>
</main>
<script type="application/json" id="wall">${scriptJson({ controls: controls.map(c => c.control.id) })}</script>
<script>
const say = body => fetch('/_wall/press', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
document.addEventListener('click', event => {
  const button = event.target.closest('button')
  if (!button) return
  if (button.dataset.power) say({ power: button.dataset.power })
  else if (button.dataset.turn) say({ sensorId: handOf(button), detents: Number(button.dataset.turn) })
  else if (button.dataset.control && button.dataset.kind !== 'held') say({ controlId: button.dataset.control })
  else if (button.dataset.key && !event.detail) say({ sensorId: handOf(button), key: Number(button.dataset.key) })
})
document.addEventListener('input', event => {
  const row = event.target.closest('tr[data-sensor]')
  if (!row) return
  const bits = [...row.querySelectorAll('[data-bit]')]
  const raw = bits.length ? [bits.reduce((sum, b) => sum + (b.checked ? 2 ** b.dataset.bit : 0), 0)] : [...row.querySelectorAll('[data-axis]')].map(i => Number(i.value))
  say({ sensorId: row.dataset.sensor, raw })
})
const handOf = button => button.closest('tr').dataset.byHand
let held = null
document.addEventListener('pointerdown', event => {
  const key = event.target.closest('button[data-key]')
  if (!key) return
  const frame = repeat => say({ sensorId: handOf(key), key: Number(key.dataset.key), repeat })
  frame(false)
  clearInterval(held)
  held = setInterval(() => frame(true), 108)
})
for (const end of ['pointerup', 'pointercancel', 'blur']) addEventListener(end, () => clearInterval(held))
let down = null
document.addEventListener('pointerdown', event => {
  down = event.target.closest('button[data-kind=held]')
  if (down) say({ controlId: down.dataset.control, finger: 'down' })
})
for (const end of ['pointerup', 'pointercancel', 'blur']) addEventListener(end, () => {
  if (down) say({ controlId: down.dataset.control, finger: 'up' })
  down = null
})
new EventSource('/_wall/events').onmessage = event => {
  const state = JSON.parse(event.data)
  for (const row of document.querySelectorAll('tr[data-load]')) {
    const load = state.loads[row.dataset.load]
    row.dataset.on = load.lit
    row.querySelector('.lamp span').textContent = state.running ? load.words : 'no power'
  }
  for (const row of document.querySelectorAll('tr[data-lamp]')) {
    row.dataset.on = state.lamps[row.dataset.lamp]
    row.querySelector('.lamp span').textContent = state.lamps[row.dataset.lamp] ? 'lit' : 'dark'
  }
  for (const row of document.querySelectorAll('tr[data-sensor]')) row.querySelector('.gives').textContent = state.sensors[row.dataset.sensor].words
  for (const button of document.querySelectorAll('button[data-control]')) button.dataset.closed = state.closed[button.dataset.control]
  const power = document.querySelector('[data-power]')
  power.dataset.power = state.running ? 'cut' : 'back'
  power.textContent = state.running ? 'cut power' : 'give power'
}
</script></body></html>
`
}
