/** What a panel has beside keys and lines: readings, guards, faders, typed numbers and timers. */
import { fullOf, nearestValue, restOf, snapped, valuesOf } from '../../core/design/values'
import { Countdown, watchDevice } from './own-parts'
import { History } from '../../core/surfaces/history'
import type { SurfaceState } from '../../core/surfaces/surface'
import {
  boxOf,
  isHold,
  isPress,
  PanelView,
  setData,
  setText,
  type Drawn,
  type PanelHost,
} from './view'

/** A freed key can be pressed this long. */
const FREE_MS = 6000
/** A key that is held to confirm has to be held this long. */
const HOLD_MS = 1000

export class RichView extends PanelView {
  private readonly histories = new Map<HTMLElement, History>()
  private holding: { key: HTMLElement; timer: ReturnType<typeof setTimeout> } | null = null
  /**
   * Held long enough: what follows from the same finger or key counts no more, until it has left.
   */
  private spent = false
  private readonly countdowns = new Map<HTMLElement, Countdown>()
  private readonly watches: (() => void)[] = []
  private readonly frees = new Map<HTMLElement, ReturnType<typeof setTimeout>>()

  constructor(root: HTMLElement, host: PanelHost, silent = false) {
    super(root, host, silent)
    for (const box of this.boxes) this.prepare(box)
    if (!silent) for (const box of this.boxes) this.prepareOwn(box)
  }

  /** What is the page's own, and stands still where nothing runs. */
  private prepareOwn(box: HTMLElement): void {
    if (box.dataset.form === 'countdown') this.countdowns.set(box, new Countdown(box))
    if (box.dataset.reads !== undefined) this.watches.push(watchDevice(box))
  }

  override close(): void {
    super.close()
    clearTimeout(this.holding?.timer)
    for (const timer of this.frees.values()) clearTimeout(timer)
    for (const countdown of this.countdowns.values()) countdown.close()
    for (const close of this.watches) close()
  }

  /**
   * Fills the charts with a course, where nothing runs: times are parts of the stretch, 1 is now.
   */
  course(of: (sensorId: string) => readonly { at: number; value: number }[]): void {
    for (const [box, history] of this.histories) {
      const minutes = Number(box.querySelector<SVGElement>('.np-chart')?.dataset.minutes)
      for (const { at, value } of of(box.dataset.sensor ?? ''))
        history.add((at - 1) * minutes * 60_000, value)
    }
  }

  private prepare(box: HTMLElement): void {
    const chart = box.querySelector<SVGElement>('.np-chart')
    if (chart) this.histories.set(box, new History(Number(chart.dataset.minutes) * 60_000))
    const gauge = box.querySelector<HTMLElement>('.np-gauge')
    if (gauge) {
      const at = (value: string) => `${100 * share(gauge, Number(value))}%`
      const [below, above] = [
        gauge.querySelector<HTMLElement>('.np-below'),
        gauge.querySelector<HTMLElement>('.np-above'),
      ]
      if (below && gauge.dataset.below !== undefined) below.style.width = at(gauge.dataset.below)
      if (above && gauge.dataset.above !== undefined)
        above.style.width = `calc(100% - ${at(gauge.dataset.above)})`
    }
    const tank = box.querySelector<HTMLElement>('.np-tank')
    for (const tick of tank?.dataset.ticks?.split(',') ?? []) {
      if (!tank || tank.querySelector(`[data-at="${tick}"]`)) continue
      const mark = Object.assign(document.createElement('i'), { className: 'np-tick' })
      mark.dataset.at = tick
      mark.style.bottom = `${100 * share(tank, Number(tick))}%`
      tank.append(mark)
    }
  }

  protected override drawMore({ box, load, belief, output, label, state }: Drawn): void {
    for (const key of box.querySelectorAll<HTMLElement>('.np-key'))
      setData(key, 'free', String(this.endsIt(key, load)))
    const field = box.querySelector<HTMLInputElement>('.np-field')
    if (field) field.disabled = !state.up
    if (field && box.dataset.form === 'number') field.placeholder = belief.value ?? '?'
    const fader = box.querySelector<HTMLInputElement>('.np-fader')
    if (!fader) return
    fader.disabled = !state.up || (box.dataset.guard !== undefined && box.dataset.open !== 'true')
    const value = state.slides[load]?.pending ?? belief.waiting?.asked ?? belief.value
    // Under a finger it stays where the finger is.
    if (value !== null && !fader.matches(':active'))
      fader.value =
        'numbers' in fader.dataset
          ? value
          : String(valuesOf(output).indexOf(nearestValue(output, Number(value))))
    fader.setAttribute('aria-valuetext', label)
  }

  protected override heardReading(sensor: number, text: string): void {
    for (const [box, history] of this.histories)
      if (this.sensorOf(box) === sensor) history.add(this.host.now(), Number(text))
  }

  protected override drawReading(box: HTMLElement, state: SurfaceState): void {
    const { text, stale } = state.readings[this.sensorOf(box)] ?? { text: '', stale: false }
    const number = text === '' ? NaN : Number(text)
    const broken = text === 'broken'
    setData(box, 'shown', text === '' ? 'unknown' : stale ? 'stale' : 'known')
    setData(box, 'broken', String(broken))
    const part = (name: string) => box.querySelector<HTMLElement>(`.np-${name}`)
    const [value, level, gauge, tank, spot] = [
      part('value'),
      part('level'),
      part('gauge'),
      part('tank'),
      part('at'),
    ]
    const { below, above } = gauge?.dataset ?? {}
    const beyond =
      below !== undefined && number < Number(below)
        ? '\u25BC below'
        : above !== undefined && number > Number(above)
          ? '\u25B2 above'
          : ''
    setData(box, 'beyond', String(beyond !== ''))
    setText(value, text === '' ? '?' : broken ? 'broken' : `${beyond} ${text}`.trim())
    const unit = part('unit')
    if (unit) unit.hidden = broken
    if (gauge && level) {
      level.style.left = `${100 * share(gauge, number)}%`
      level.hidden = !Number.isFinite(number)
    }
    if (tank && level) level.style.height = `${100 * share(tank, number)}%`
    if (spot) {
      const [x = 0, y = 0] = text.split(',').map(Number)
      spot.style.left = `${50 + x / 2}%`
      spot.style.top = `${50 - y / 2}%`
      spot.hidden = text === ''
    }
    const chart = box.querySelector<SVGElement>('.np-chart')
    const path =
      chart
      && this.histories
        .get(box)
        ?.path(this.host.now(), Number(chart.dataset.low), Number(chart.dataset.high))
    if (chart && chart.firstElementChild?.getAttribute('d') !== path)
      chart.firstElementChild?.setAttribute('d', path ?? '')
  }

  private sensorOf(box: HTMLElement): number {
    return this.host.program.sensors.indexOf(box.dataset.sensor ?? '')
  }

  protected override listen(): void {
    super.listen()
    // A click that a keyboard or a screen reader makes has no finger behind it: the first frees the
    // key, the second presses it.
    this.on('keydown', (event, key) => {
      if (!key || !this.isConfirmed(key) || !isPress(event)) return
      event.preventDefault()
      this.startHolding(key)
    })
    for (const type of ['click', 'keydown'] as const) {
      this.root.addEventListener(
        type,
        event => {
          if (!this.spent || (event instanceof KeyboardEvent && event.key === 'Tab')) return
          event.preventDefault()
          event.stopPropagation()
        },
        { capture: true },
      )
    }
    this.on('pointerdown', (_, key) => {
      if (key && this.isConfirmed(key)) this.startHolding(key)
    })
    this.on('contextmenu', (event, key) => {
      if (key && this.isConfirmed(key)) event.preventDefault()
    })
    this.on('input', event => this.moved(event.target as HTMLInputElement))
    this.on('change', event => this.settled(event.target as HTMLInputElement))
    this.on('click', (event, key) => {
      if (event.detail === 0 && key && this.isConfirmed(key) && !this.holding) this.free(boxOf(key))
    })
    this.onEnd(() => {
      this.stopHolding()
      // The click of a finger that leaves comes right after.
      if (this.spent)
        setTimeout(() => {
          this.spent = false
        }, 50)
    })
  }

  /** Held to confirm. Where a phone cannot be asked to unlock, holding stands in for it. */
  private isConfirmed(key: HTMLElement): boolean {
    const { guard } = boxOf(key).dataset
    return (
      (guard === 'hold' || (guard === 'unlock' && !canUnlock())) && !isHold(key) && this.isShut(key)
    )
  }

  protected override isShut(key: HTMLElement): boolean {
    const { guard, open } = boxOf(key).dataset
    return guard !== undefined && open !== 'true' && key.dataset.free !== 'true'
  }

  protected override pressedShut(key: HTMLElement): void {
    const box = boxOf(key)
    if (box.dataset.guard === 'unlock' && canUnlock())
      void unlocked().then(ok => ok && this.perform(key))
    else box.querySelector<HTMLElement>('.np-lock')?.focus()
  }

  /** What only ends something is never behind a guard. */
  private endsIt(key: HTMLElement, load: number): boolean {
    const output = this.host.program.outputs[load]
    const want = key.dataset.want ?? ''
    return (
      output !== undefined
      && (want === restOf(output)
        || (want === 'flip' && this.host.state().beliefs[load]?.value === fullOf(output)))
    )
  }

  protected override perform(key: HTMLElement): void {
    const box = boxOf(key)
    const { want = '' } = key.dataset
    const countdown = this.countdowns.get(box)
    if (countdown) return countdown.press(want)
    const load = this.loadOf(box)
    const output = this.host.program.outputs[load]
    const field = box.querySelector<HTMLInputElement>('.np-field')
    const timed = box.dataset.form === 'timer' && want !== 'off'
    if (field && output && want === 'set') {
      if (field.value !== '')
        this.host.ask({ kind: 'key', load, want: snapped(output, Number(field.value)) })
      field.value = ''
    } else if (field && timed && !(field.value !== '' && field.checkValidity()))
      field.reportValidity()
    else if (field && timed)
      this.host.ask({
        kind: 'key',
        load,
        want: `${want}:${Math.round(Number(field.value) * 1000)}`,
      })
    else super.perform(key)
    if (box.dataset.open === 'true') this.relock(box)
  }

  private startHolding(key: HTMLElement): void {
    if (this.holding || (key as HTMLButtonElement).disabled) return
    key.dataset.holding = ''
    this.holding = {
      key,
      timer: setTimeout(() => {
        this.stopHolding()
        this.spent = true
        this.perform(key)
      }, HOLD_MS),
    }
  }

  private stopHolding(): void {
    if (!this.holding) return
    clearTimeout(this.holding.timer)
    delete this.holding.key.dataset.holding
    this.holding = null
  }

  private moved(input: HTMLInputElement): void {
    const box = boxOf(input)
    const load = this.loadOf(box)
    const output = this.host.program.outputs[load]
    if (input.classList.contains('np-fader') && output)
      this.host.ask({
        kind: 'slide',
        load,
        want:
          'numbers' in input.dataset
            ? snapped(output, Number(input.value))
            : (valuesOf(output)[Number(input.value)] ?? restOf(output)),
      })
    else if (
      input.classList.contains('np-lock')
      && input.type === 'range'
      && Number(input.value) >= 95
    )
      this.free(box)
  }

  private settled(input: HTMLInputElement): void {
    const box = boxOf(input)
    if (!input.classList.contains('np-lock')) return
    if (input.type === 'range') {
      if (box.dataset.open !== 'true') input.value = '0'
      return
    }
    if (input.value === '') return
    const known = this.host.pin?.get() ?? null
    if (known === null) this.host.pin?.set(input.value)
    if (known === null || known === input.value) this.free(box)
    else input.placeholder = 'not this PIN'
    input.value = ''
  }

  private free(box: HTMLElement): void {
    box.dataset.open = 'true'
    clearTimeout(this.frees.get(box))
    this.frees.set(
      box,
      setTimeout(() => this.relock(box), FREE_MS),
    )
    this.draw()
    box.querySelector<HTMLElement>('[data-want],.np-fader')?.focus()
  }

  private relock(box: HTMLElement): void {
    clearTimeout(this.frees.get(box))
    delete box.dataset.open
    const lock = box.querySelector<HTMLInputElement>('.np-lock')
    if (lock) lock.value = lock.type === 'range' ? '0' : ''
    this.draw()
  }
}

/** Where a value lies on a scale: 0 to 1; what is no number lies at 0. */
function share(scale: HTMLElement | SVGElement, value: number): number {
  const { low, high } = scale.dataset
  return Math.max(0, Math.min(1, (value - Number(low)) / (Number(high) - Number(low)))) || 0
}

/** Phones unlock for pages that were loaded safely only. */
function canUnlock(): boolean {
  return isSecureContext && 'PublicKeyCredential' in globalThis
}

/**
 * The phone's own unlock: a key that never leaves it is made once, and asked for again each time.
 */
async function unlocked(): Promise<boolean> {
  const random = (bytes: number) => crypto.getRandomValues(new Uint8Array(bytes))
  try {
    const kept = localStorage.getItem('nolvi unlock')
    if (kept) {
      const id = Uint8Array.from(atob(kept), c => c.charCodeAt(0))
      return (
        (await navigator.credentials.get({
          publicKey: {
            challenge: random(32),
            allowCredentials: [{ type: 'public-key', id }],
            userVerification: 'required',
          },
        })) !== null
      )
    }
    const made = await navigator.credentials.create({
      publicKey: {
        challenge: random(32),
        rp: { name: document.title },
        user: { id: random(16), name: 'panel', displayName: 'panel' },
        pubKeyCredParams: [
          { type: 'public-key', alg: -7 },
          { type: 'public-key', alg: -257 },
        ],
        authenticatorSelection: {
          authenticatorAttachment: 'platform',
          userVerification: 'required',
        },
      },
    })
    if (made)
      localStorage.setItem(
        'nolvi unlock',
        btoa(String.fromCharCode(...new Uint8Array((made as PublicKeyCredential).rawId))),
      )
    return made !== null
  } catch {
    return false
  }
}
