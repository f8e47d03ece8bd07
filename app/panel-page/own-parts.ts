/** Parts of a panel page that are its own: a kitchen timer, readings of the device. */
import { setData, setText } from './view'

const MINUTE_MS = 60_000
/** It calls this often while its time is over, and this many times. */
const CALL_MS = 1000
const CALLS = 60

/** A kitchen timer. Time goes by the clock of the device, so that a page that slept is right. */
export class Countdown {
  private leftMs: number
  private endsAt: number | null = null
  private calls = 0
  private timer: ReturnType<typeof setInterval> | undefined

  /** `now`: ms, of the clock of the device. */
  constructor(
    private readonly box: HTMLElement,
    private readonly now: () => number = Date.now,
  ) {
    this.leftMs = this.minutes * MINUTE_MS
  }

  private get minutes(): number {
    return Number(this.box.dataset.minutes)
  }

  press(want: string): void {
    if (this.calls) return this.reset()
    if (want === 'go' && this.endsAt !== null) this.reset()
    else if (want === 'go') this.start()
    else this.add(want === 'more' ? MINUTE_MS : -MINUTE_MS)
    this.draw()
  }

  close(): void {
    clearInterval(this.timer)
  }

  private start(): void {
    this.endsAt = this.now() + this.leftMs
    this.timer = setInterval(() => this.draw(), CALL_MS / 4)
  }

  private add(ms: number): void {
    if (this.endsAt === null) this.leftMs = Math.max(MINUTE_MS, this.leftMs + ms)
    else this.endsAt = Math.max(this.now(), this.endsAt + ms)
  }

  private reset(): void {
    clearInterval(this.timer)
    this.endsAt = null
    this.calls = 0
    this.leftMs = this.minutes * MINUTE_MS
    this.draw()
  }

  private draw(): void {
    const left = this.endsAt === null ? this.leftMs : Math.max(0, this.endsAt - this.now())
    const seconds = Math.ceil(left / 1000)
    const isOver = this.endsAt !== null && left === 0
    if (isOver) this.call()
    setText(
      this.box.querySelector('.np-value'),
      `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`,
    )
    setData(this.box, 'running', String(this.endsAt !== null))
    setData(this.box, 'over', String(isOver))
    setText(
      this.box.querySelector('[data-want="go"]'),
      isOver ? 'Over' : this.endsAt === null ? 'Start' : 'Stop',
    )
  }

  /** A tone and a shake a second, where the device has them; a minute long. */
  private call(): void {
    const due = this.endsAt !== null && this.now() >= this.endsAt + this.calls * CALL_MS
    if (!due || this.calls >= CALLS) return
    this.calls++
    if ('vibrate' in navigator) navigator.vibrate(400)
    tone()
  }
}

let audio: AudioContext | undefined
function tone(): void {
  try {
    audio ??= new AudioContext()
    const tone = audio.createOscillator()
    tone.frequency.value = 880
    tone.connect(audio.destination)
    tone.start()
    tone.stop(audio.currentTime + 0.3)
  } catch {
    /* silent devices show it */
  }
}

interface Battery extends EventTarget {
  level: number
}

/** Shows what the device tells of itself; "?" where its browser gives nothing. */
export function watchDevice(box: HTMLElement): () => void {
  const closers = new AbortController()
  const { signal } = closers
  const show = (text: string) => {
    setText(box.querySelector('.np-value'), text)
    setData(box, 'shown', 'known')
  }
  switch (box.dataset.reads) {
    case 'battery': {
      const { getBattery } = navigator as { getBattery?: () => Promise<Battery> }
      void getBattery
        ?.call(navigator)
        .then(battery => {
          const tell = () => show(String(Math.round(battery.level * 100)))
          battery.addEventListener('levelchange', tell, { signal })
          tell()
        })
        .catch(() => undefined)
      break
    }
    case 'tilt':
      addEventListener(
        'deviceorientation',
        event => {
          const { beta, gamma } = event as DeviceOrientationEvent
          if (beta !== null && gamma !== null) show(`${Math.round(beta)}, ${Math.round(gamma)}`)
        },
        { signal },
      )
      break
    case 'position': {
      const { geolocation } = navigator as { geolocation?: Geolocation }
      const watch = geolocation?.watchPosition(
        ({ coords }) => show(`${coords.latitude.toFixed(4)}, ${coords.longitude.toFixed(4)}`),
        () => undefined,
      )
      if (watch !== undefined)
        signal.addEventListener('abort', () => geolocation?.clearWatch(watch))
    }
  }
  return () => closers.abort()
}
