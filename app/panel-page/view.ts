/**
 * A panel brought to life: keys of the markup ask, and what is believed is drawn. The built page,
 * the canvas on the bench and the preview of a layout are this one view with another host behind
 * it. What is more than keys and lines: rich-view.ts.
 */
import { isLit, shownLabel } from '../../core/panels/words'
import type { Output } from '../../core/design/schema'
import {
  shown,
  type Belief,
  type SurfaceProgram,
  type SurfaceState,
  type Understood,
} from '../../core/surfaces/surface'

export type Wish =
  { kind: 'key' | 'slide'; load: number; want: string } | { kind: 'scene'; scene: number }

export interface PanelHost {
  program: SurfaceProgram
  state: () => SurfaceState
  ask: (wish: Wish) => void
  now: () => number
  /** "connected", why it is not, or why the last command was refused. */
  status: () => string
  /** The PIN of this page on this device: null before one was chosen. */
  pin?: { get: () => string | null; set: (pin: string) => void }
}

/** One load on its box. */
export interface Drawn {
  box: HTMLElement
  load: number
  belief: Belief
  output: Output
  is: string
  label: string
  state: SurfaceState
}

export class PanelView {
  protected readonly boxes: HTMLElement[]
  private readonly closers = new AbortController()
  private held: HTMLElement | null = null

  /** `silent`: only drawn, as in a layout. */
  constructor(
    protected readonly root: HTMLElement,
    protected readonly host: PanelHost,
    silent = false,
  ) {
    this.boxes = [...root.querySelectorAll<HTMLElement>('.np-box')]
    if (!silent) this.listen()
  }

  close(): void {
    this.letGo()
    this.closers.abort()
  }

  draw(): void {
    const state = this.host.state()
    for (const box of this.boxes) {
      if (box.dataset.loadId !== undefined) this.drawLoad(box, state)
      else if (box.dataset.sensor !== undefined) this.drawReading(box, state)
      else if (box.dataset.scene !== undefined)
        for (const key of box.querySelectorAll('button')) key.disabled = !state.up
      else if (box.dataset.form === 'connection')
        setText(box.querySelector('.np-why'), this.host.status())
    }
  }

  /** What was understood since the last time: for the answer line and the histories. */
  heard(list: readonly Understood[]): void {
    for (const item of list) {
      if ('sensor' in item) {
        this.heardReading(item.sensor, item.text)
        continue
      }
      const output = 'load' in item ? this.host.program.outputs[item.load] : undefined
      const words =
        'refused' in item
          ? `refused: ${item.refused}`
          : output
            ? `${this.nameOf(item.load)} is ${shownLabel(output, item.value, null, true)}`
            : ''
      for (const line of this.root.querySelectorAll('.np-answers'))
        setText(line, `${words}, ${new Date().toLocaleTimeString('en-GB')}`)
    }
  }

  private nameOf(load: number): string {
    const box = this.boxes.find(b => this.loadOf(b) === load)
    return box?.querySelector('.np-name')?.textContent ?? this.host.program.loads[load] ?? ''
  }

  private drawLoad(box: HTMLElement, state: SurfaceState): void {
    const load = this.loadOf(box)
    const belief = state.beliefs[load]
    const output = this.host.program.outputs[load]
    if (!belief || !output) return
    const is = shown(belief)
    const label = shownLabel(output, is, belief.waiting?.asked ?? null, state.up)
    setData(box, 'shown', is)
    setData(box, 'lit', String(isLit(output, is)))
    setText(box.querySelector('.np-words'), label)
    for (const key of box.querySelectorAll<HTMLButtonElement>('.np-key')) {
      key.disabled = !state.up
      if (key.classList.contains('np-half')) setData(key, 'marked', String(is === key.dataset.want))
    }
    this.drawMore({ box, load, belief, output, is, label, state })
  }

  protected drawMore(_: Drawn): void {
    /* keys show all there is */
  }
  protected drawReading(_: HTMLElement, __: SurfaceState): void {
    /* no readings */
  }
  protected heardReading(_: number, __: string): void {
    /* no readings */
  }
  /** Whether a guard keeps a key from acting now. */
  protected isShut(_: HTMLElement): boolean {
    return false
  }
  /** A press on a key that is shut. */
  protected pressedShut(_: HTMLElement): void {
    /* no guards */
  }

  protected loadOf(box: HTMLElement): number {
    return this.host.program.loads.indexOf(box.dataset.loadId ?? '')
  }

  protected on<K extends keyof HTMLElementEventMap>(
    type: K,
    then: (event: HTMLElementEventMap[K], key: HTMLElement | null) => void,
  ): void {
    this.root.addEventListener(
      type,
      event => then(event, (event.target as HTMLElement).closest<HTMLElement>('[data-want]')),
      { signal: this.closers.signal },
    )
  }

  /** A finger leaves, or the page or its focus is lost. */
  protected onEnd(then: () => void): void {
    for (const end of [
      'pointerup',
      'pointercancel',
      'blur',
      'visibilitychange',
      'focusout',
      'keyup',
    ])
      addEventListener(end, then, { signal: this.closers.signal })
  }

  protected listen(): void {
    this.on('click', (_, key) => {
      if (key && !isHold(key)) this.press(key)
    })
    this.on('pointerdown', (_, key) => {
      if (key && isHold(key)) this.take(key)
    })
    this.on('keydown', (event, key) => {
      if (!key || !isHold(key) || !isPress(event)) return
      event.preventDefault()
      this.take(key)
    })
    this.on('contextmenu', (event, key) => {
      if (key && isHold(key)) event.preventDefault()
    })
    this.onEnd(() => this.letGo())
  }

  private press(key: HTMLElement): void {
    if ((key as HTMLButtonElement).disabled) return
    felt()
    if (this.isShut(key)) this.pressedShut(key)
    else this.perform(key)
  }

  protected perform(key: HTMLElement): void {
    const box = boxOf(key)
    if (box.dataset.scene !== undefined)
      this.host.ask({ kind: 'scene', scene: this.host.program.sceneIds.indexOf(box.dataset.scene) })
    else this.host.ask({ kind: 'key', load: this.loadOf(box), want: key.dataset.want ?? '' })
  }

  private take(key: HTMLElement): void {
    if (this.held || (key as HTMLButtonElement).disabled || this.isShut(key)) return
    this.held = key
    felt()
    this.host.ask({ kind: 'key', load: this.loadOf(boxOf(key)), want: 'on' })
  }

  /**
   * A held key is on while the finger stays, wherever the finger goes; losing the page or the focus
   * lets go.
   */
  private letGo(): void {
    const key = this.held
    this.held = null
    if (key) this.host.ask({ kind: 'key', load: this.loadOf(boxOf(key)), want: 'off' })
  }
}

/** A finger feels that it pressed, where the device can say so. */
function felt(): void {
  navigator.vibrate?.(12)
}

export function isHold(key: HTMLElement): boolean {
  return key.classList.contains('np-hold')
}

/** The keys that press a button. A key that stays down is one press. */
export function isPress(event: KeyboardEvent): boolean {
  return (event.key === ' ' || event.key === 'Enter') && !event.repeat
}

export function boxOf(element: HTMLElement): HTMLElement {
  return element.closest<HTMLElement>('.np-box') ?? element
}

export function setData(element: HTMLElement, key: string, value: string): void {
  if (element.dataset[key] !== value) element.dataset[key] = value
}

export function setText(element: Element | null, text: string): void {
  if (element && element.textContent !== text) element.textContent = text
}
