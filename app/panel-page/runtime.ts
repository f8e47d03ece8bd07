/**
 * What runs inside a built panel page. It is bundled by scripts/panel-runtime.mjs into
 * core/sides/panel-runtime.ts, so a page holds the very `surfaceStep` that bench and proof use.
 */
import { DEVICES } from '../../core/bytes/signing'
import type { Design } from '../../core/design/schema'
import { helloCode, printIn } from '../../core/messages/table'
import { wireOf } from '../../core/design/wire'
import {
  compileSurface,
  panelDue,
  surfaceStep,
  startSurface,
  type SurfaceEvent,
} from '../../core/surfaces/surface'
import { firstCounter } from '../../core/messages/sealing'
import { openTransport, type Transport } from './transports'
import { settings, View } from './features'
import { speaksRoutes } from '../../core/design/links/traits'

interface Config {
  design: Design
  surfaceId: string
  print: string
  secret?: string
}

const config = JSON.parse(document.getElementById('nolvi-config')?.textContent ?? '{}') as Config
const program = compileSurface(
  config.design,
  config.surfaceId,
  config.secret ?? stored('secret') ?? undefined,
  Math.floor(Date.now() / 1000),
)
const link = program.link
const meta = (name: string) =>
  document.querySelector<HTMLMetaElement>(`meta[name="nolvi-${name}"]`)?.content ?? null
const standIn = meta('wire')
/** Looked at within Nolvi: it asks nobody. */
const preview = meta('preview') !== null
const started = performance.now()
const now = () => Math.round(performance.now() - started)
const root = document.querySelector('.np') as HTMLElement

// Devices that share a key count apart: which of them this one is it draws by lot. A page that was
// closed goes on counting where it was; where it does not know, the controller tells it with its
// first refusal.
let state = {
  ...startSurface(program),
  counter:
    link.auth.kind === 'counter'
      ? Number(stored('counter') ?? firstCounter(Math.floor(Math.random() * DEVICES)))
      : Number(stored('counter') ?? 0),
}
let transport: Transport
let timer: ReturnType<typeof setTimeout> | undefined
let why = ''
/** The last command was refused, and why; for a while. */
let refusal = ''
let calm: ReturnType<typeof setTimeout> | undefined
let theirs = ''

const view = new View(root, {
  program,
  now,
  state: () => state,
  status,
  ask: wish => handle({ ...wish, now: now() }),
  pin: { get: () => stored('pin'), set: pin => store('pin', pin) },
})

function handle(event: SurfaceEvent): void {
  const stepped = surfaceStep(program, state, event)
  if (stepped.state.counter !== state.counter) store('counter', String(stepped.state.counter))
  state = stepped.state
  stepped.sends.forEach((text, i) => transport.send(text, stepped.about[i] ?? -1))
  clearTimeout(timer)
  const due = panelDue(state)
  if (due !== null)
    timer = setTimeout(() => handle({ kind: 'tick', now: now() }), Math.max(0, due - now()))
  const heard = stepped.heard ?? []
  const said = heard.find(h => 'refused' in h)
  if (said) refused(said.refused)
  if (heard.length) view.heard(heard)
  draw()
}

function status(): string {
  if (!state.up) return why || 'not connected'
  return refusal ? `refused: ${refusal}` : 'connected'
}

const REFUSAL_MS = 8000
/** A refusal is never shown as silence, nor as if all were well. */
function refused(words: string): void {
  refusal = words
  clearTimeout(calm)
  calm = setTimeout(() => {
    refusal = ''
    draw()
  }, REFUSAL_MS)
}

function open(): void {
  transport = preview
    ? { send: () => undefined, close: () => undefined }
    : openTransport(link, baseAddress(), standIn, {
        up() {
          why = ''
          handle({ kind: 'linkUp', now: now() })
          // Which table the other side speaks, where it can be asked.
          if (helloCode(link) !== '') transport.send(wireOf(link, helloCode(link), 'command'), -1)
        },
        down: () => handle({ kind: 'linkDown', now: now() }),
        why(words) {
          why = words
          draw()
        },
        heard(text, via, about = -1) {
          const print = printIn(link, text)
          if (print !== null) {
            theirs = print
            draw()
          }
          handle({ kind: 'received', now: now(), text, via, about })
        },
      })
}

function draw(): void {
  view.draw()
  const line = document.querySelector<HTMLElement>('.np-link')
  const words = line?.querySelector('span')
  if (line) line.dataset.up = String(state.up)
  if (line) line.dataset.refused = String(state.up && refusal !== '')
  const said = status()
  if (words && words.textContent !== said) words.textContent = said
  const stale = document.querySelector<HTMLElement>('.np-stale')
  if (!stale) return
  stale.hidden = theirs === '' || theirs === config.print
  stale.textContent = stale.hidden
    ? ''
    : `This page was made for table ${config.print}, the controller speaks ${theirs}. Keys may do something else: build the page anew.`
}

/**
 * A page served by the controller asks there; a page opened as a file asks at the address typed or
 * designed.
 */
function baseAddress(): string {
  if (location.protocol.startsWith('http') && meta('site') === null) return ''
  const typed = new URLSearchParams(location.search).get('at') ?? stored('at')
  return typed ?? (speaksRoutes(link) ? link.address : '')
}

/** What the page keeps for itself; without storage it holds until the page closes. */
function stored(what: string): string | null {
  try {
    return localStorage.getItem(`nolvi ${config.design.id} ${config.surfaceId} ${what}`)
  } catch {
    return null
  }
}
function forget(what: string): void {
  try {
    localStorage.removeItem(`nolvi ${config.design.id} ${config.surfaceId} ${what}`)
  } catch {
    /* nothing is kept */
  }
}
function store(what: string, value: string): void {
  try {
    localStorage.setItem(`nolvi ${config.design.id} ${config.surfaceId} ${what}`, value)
  } catch {
    /* nothing can be kept */
  }
}

/** What is kept on the device, and what a person has to press before anything connects. */
function buildFoot(): void {
  const foot = document.querySelector<HTMLElement>('.np-foot')
  if (!foot) return
  const file = !location.protocol.startsWith('http') || meta('site') !== null
  const sheet = settings?.({
    address: speaksRoutes(link) && !standIn && file ? baseAddress() : null,
    asks: config.secret === undefined && link.auth.kind !== 'none' ? link.auth.kind : null,
    stored,
    store,
    forget,
  })
  if (sheet) foot.prepend(sheet)
  if (transport.connect) {
    const connect = document.createElement('button')
    connect.textContent = 'Connect'
    connect.addEventListener('click', () => void transport.connect?.())
    foot.prepend(connect)
  }
}

function showPage(n: number): void {
  document.querySelectorAll<HTMLElement>('.np-page').forEach((page, i) => {
    page.hidden = i !== n
  })
  document
    .querySelectorAll('.np-tabs button')
    .forEach((tab, i) =>
      i === n ? tab.setAttribute('aria-current', 'page') : tab.removeAttribute('aria-current'),
    )
}
/**
 * The page named in the address, as a wall card has it: "#2", or the id of a key, which then has
 * the focus.
 */
function goTo(): void {
  const mark = decodeURIComponent(location.hash.slice(1))
  const box = [...document.querySelectorAll<HTMLElement>('.np-box')].find(
    b => b.dataset.id === mark,
  )
  const page = box
    ? [...document.querySelectorAll('.np-page')].indexOf(box.closest('.np-page') as Element)
    : Number(mark) - 1
  showPage(page >= 0 && page < document.querySelectorAll('.np-page').length ? page : 0)
  box?.querySelector<HTMLElement>('button,input')?.focus()
}

document
  .querySelectorAll('.np-tabs button')
  .forEach((tab, i) => tab.addEventListener('click', () => showPage(i)))
addEventListener('hashchange', goTo)
setInterval(() => {
  if (document.querySelector('.np-chart')) view.draw()
}, 1000)
open()
buildFoot()
goTo()
draw()
if (meta('site') !== null && 'serviceWorker' in navigator)
  void navigator.serviceWorker.register('sw.js').catch(() => undefined)
