/** The scale of time at the left edge. */
import { TIME_SCALE_PX } from '../../composables/bench-columns'

import { line } from './pens'
import { type TimelineView, yOf, endMs } from './view'

const STEPS_MS = [
  0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000,
  30_000, 60_000, 300_000, 600_000, 1_800_000, 3_600_000, 7_200_000, 21_600_000,
]

export function drawScale(c: CanvasRenderingContext2D, view: TimelineView): void {
  const { colours } = view
  const step = STEPS_MS.find(s => s * view.pxPerMs >= 46) ?? 21_600_000
  c.strokeStyle = colours.rule
  c.fillStyle = colours.second
  c.font = `600 13px ${colours.mono}`
  c.textAlign = 'right'
  c.textBaseline = 'middle'
  c.lineWidth = 1
  const first = Math.max(0, Math.floor(view.fromMs / step))
  for (let n = first; n * step <= Math.min(endMs(view), view.nowMs + step); n++) {
    const y = Math.round(yOf(view, n * step)) + 0.5
    line(c, TIME_SCALE_PX, y, view.width, y)
    c.fillText(
      step < 10 ? `+${Number(((n * step) % 1000).toFixed(2))} ms` : timeLabel(n * step, step),
      TIME_SCALE_PX - 8,
      n === 0 ? Math.max(8, y) : y,
    )
  }
  if (step >= 10) return
  // So close, the scale counts from the whole second that it begins in.
  c.fillStyle = colours.paper
  c.fillRect(0, 0, TIME_SCALE_PX - 2, 22)
  c.fillStyle = colours.ink
  c.fillText(timeLabel(Math.floor(view.fromMs / 1000) * 1000, 1000), TIME_SCALE_PX - 8, 11)
}

/** A time as far as its step tells it: "0.3 s", "1.00012 s", "2:05", "5:30:00". */
export function timeLabel(t: number, step: number): string {
  const digits = step >= 1000 ? 0 : Math.max(0, Math.ceil(-Math.log10(step / 1000)))
  const s = t / 1000
  if (s < 60) return `${s.toFixed(digits)}${digits > 4 ? '' : ' s'}`
  const clock = (n: number) => String(Math.floor(n)).padStart(2, '0')
  const rest = (s % 60).toFixed(digits).padStart(digits ? digits + 3 : 2, '0')
  return s < 3600
    ? `${Math.floor(s / 60)}:${rest}`
    : step >= 60_000
      ? `${Math.floor(s / 3600)}:${clock((s / 60) % 60)} h`
      : `${Math.floor(s / 3600)}:${clock((s / 60) % 60)}:${rest}`
}
