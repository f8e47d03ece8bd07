/**
 * What runs inside a built panel page. It is bundled by scripts/panel-runtime.mjs into core/build/panel-runtime.ts,
 * so a page holds the very `panelStep` that bench and proof use.
 */
import type { Design } from '../../core/design/schema'
import { isLit, shownLabel } from '../../core/panels/words'
import { compilePanel, panelDue, panelStep, shown, startPanel, type PanelEvent } from '../../core/surfaces/panel'
import { openTransport, type Transport } from './transports'

interface Config { design: Design, surfaceId: string, secret?: string }

const config = JSON.parse(document.getElementById('nolvi-config')?.textContent ?? '{}') as Config
const program = compilePanel(config.design, config.surfaceId, config.secret ?? stored('secret') ?? undefined)
const link = program.link
const standIn = document.querySelector<HTMLMetaElement>('meta[name="nolvi-wire"]')?.content ?? null
/** Looked at within Nolvi: it asks nobody. */
const preview = document.querySelector('meta[name="nolvi-preview"]') !== null
const started = performance.now()
const now = () => Math.round(performance.now() - started)

// A page that was closed goes on counting: from where it was, or from the seconds of its clock, whichever is more.
let state = { ...startPanel(program), counter: Math.max(Number(stored('counter') ?? 0), Math.floor(Date.now() / 1000)) }
let transport: Transport
let timer: ReturnType<typeof setTimeout> | undefined

function handle(event: PanelEvent): void {
  const stepped = panelStep(program, state, event)
  if (stepped.state.counter !== state.counter) store('counter', String(stepped.state.counter))
  state = stepped.state
  for (const text of stepped.sends) transport.send(text)
  clearTimeout(timer)
  const due = panelDue(state)
  if (due !== null) timer = setTimeout(() => handle({ kind: 'tick', now: now() }), Math.max(0, due - now()))
  draw()
}

function open(): void {
  transport = preview ? { send: () => undefined, close: () => undefined } : openTransport(link, baseAddress(), standIn, {
    up: () => handle({ kind: 'linkUp', now: now() }),
    down: () => handle({ kind: 'linkDown', now: now() }),
    heard: (text, via) => handle({ kind: 'received', now: now(), text, via }),
  })
}

function draw(): void {
  for (const box of document.querySelectorAll<HTMLElement>('.np-box')) {
    const load = Number(box.dataset.load)
    const belief = state.beliefs[load]
    const output = program.outputs[load]
    if (!belief || !output) continue
    const is = shown(belief)
    box.dataset.shown = is
    box.dataset.lit = String(isLit(output, is))
    const label = shownLabel(output, is, belief.waiting?.asked ?? null, state.up)
    for (const words of box.querySelectorAll('.np-words')) words.textContent = label
    for (const key of box.querySelectorAll<HTMLButtonElement>('button')) {
      key.disabled = !state.up
      if (key.classList.contains('np-half')) key.dataset.marked = String(is === key.dataset.want)
    }
  }
  const line = document.querySelector<HTMLElement>('.np-link')
  if (!line) return
  line.dataset.up = String(state.up)
  const words = line.querySelector('span')
  if (words) words.textContent = state.up ? 'connected' : 'not connected'
}

/** A page served by the controller asks there; a page opened as a file asks at the address typed or designed. */
function baseAddress(): string {
  if (location.protocol.startsWith('http')) return ''
  const typed = new URLSearchParams(location.search).get('at') ?? stored('at')
  return typed ?? (link.kind === 'http' ? link.address : '')
}

/** What the page keeps for itself; without storage it holds until the page closes. */
function stored(what: string): string | null {
  try { return localStorage.getItem(`nolvi ${config.design.id} ${config.surfaceId} ${what}`) }
  catch { return null }
}
function store(what: string, value: string): void {
  try { localStorage.setItem(`nolvi ${config.design.id} ${config.surfaceId} ${what}`, value) }
  catch { /* nothing can be kept */ }
}

function buildFoot(): void {
  const foot = document.querySelector<HTMLElement>('.np-foot')
  if (!foot) return
  if (link.kind === 'http' && !standIn && !location.protocol.startsWith('http')) {
    const input = Object.assign(document.createElement('input'), { value: baseAddress(), ariaLabel: 'Address of the controller' })
    input.addEventListener('change', () => {
      store('at', input.value.trim())
      location.search = `?at=${encodeURIComponent(input.value.trim())}`
    })
    foot.prepend(input)
  }
  if (link.auth.kind !== 'none' && config.secret === undefined) {
    const input = Object.assign(document.createElement('input'), { type: 'password', value: stored('secret') ?? '', placeholder: link.auth.kind === 'pin' ? 'PIN' : 'key', ariaLabel: link.auth.kind === 'pin' ? 'PIN of this panel' : 'Key of this panel', autocomplete: 'off' })
    input.addEventListener('change', () => {
      store('secret', input.value.trim())
      location.reload()
    })
    foot.prepend(input)
  }
  if (transport.connect) {
    const button = Object.assign(document.createElement('button'), { textContent: 'Connect' })
    button.addEventListener('click', () => { void transport.connect?.().catch(() => handle({ kind: 'linkDown', now: now() })) })
    foot.prepend(button)
  }
  else if (link.kind !== 'http' && !standIn && !preview) foot.prepend('baud' in link ? 'This browser offers no serial ports to pages.' : 'No browser speaks this link: open the page on a stand-in.')
}

function ask(target: EventTarget | null, want?: string): void {
  const key = (target as HTMLElement | null)?.closest<HTMLButtonElement>('button[data-want]')
  const box = key?.closest<HTMLElement>('.np-box')
  if (key && box && !key.disabled) handle({ kind: 'key', now: now(), load: Number(box.dataset.load), want: want ?? key.dataset.want ?? '' })
}
const isHold = (target: EventTarget | null) => target instanceof HTMLElement && target.closest('.np-hold') !== null
/** A held key is on while the finger stays, wherever the finger goes; losing the page or the focus lets go. */
let held: Element | null = null
function take(target: EventTarget | null): void {
  if (held) return
  held = (target as HTMLElement).closest('.np-hold')
  ask(held)
}
function letGo(): void {
  const key = held
  held = null
  if (key) ask(key, 'off')
}
document.addEventListener('click', (event) => { if (!isHold(event.target)) ask(event.target) })
document.addEventListener('pointerdown', (event) => { if (isHold(event.target)) take(event.target) })
for (const end of ['pointerup', 'pointercancel', 'blur', 'visibilitychange', 'focusout', 'keyup']) addEventListener(end, letGo)
document.addEventListener('keydown', (event) => { if (isHold(event.target) && (event.key === ' ' || event.key === 'Enter') && !event.repeat) take(event.target) })
document.addEventListener('contextmenu', (event) => { if (isHold(event.target)) event.preventDefault() })
open()
buildFoot()
draw()
