/** Texts beside messages, where there is room for them. */
import type { TracedMessage } from '../../../core/bench/trace'

import type { TimelineView } from './view'

/** Words nearer than this are left out. */
const LABEL_APART_PX = 24

/** Width of a character of the mono face at 13 px. */
const CHARACTER_PX = 7.9

/** A text beside its line, left out where it would lie on another of the same lane. */
export function label(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  m: TracedMessage,
  x: number,
  y: number,
  last: Map<string, number>,
  lane: string,
  gapPx: number,
): void {
  const otherLane = lane.endsWith('up') ? lane.replace('up', 'down') : lane.replace('down', 'up')
  if (
    y - (last.get(lane) ?? -Infinity) < LABEL_APART_PX
    || Math.abs(y - (last.get(otherLane) ?? -Infinity)) < 14
  )
    return
  last.set(lane, y)
  const flat = m.shown.replaceAll('\n', ' ')
  // As much as fits between the ribbons.
  const most = Math.max(2, Math.floor((gapPx - 10) / CHARACTER_PX))
  const text = flat.length > most ? `${flat.slice(0, most - 1)}…` : flat
  later.push({
    text,
    x,
    y,
    colour: m.lost ? view.colours.differs : view.colours.ink,
    alpha: c.globalAlpha,
  })
}

/** Words come last, so that no line runs through them. */
const later: { text: string; x: number; y: number; colour: string; alpha: number }[] = []

export function drawLabels(c: CanvasRenderingContext2D, view: TimelineView): void {
  c.font = `700 13px ${view.colours.mono}`
  c.textAlign = 'center'
  c.textBaseline = 'alphabetic'
  // A ground behind the words; a stroke around each letter costs many times as much.
  for (const { text, x, y, colour, alpha } of later.splice(0)) {
    const half = (text.length * CHARACTER_PX) / 2 + 2
    c.globalAlpha = 1
    c.fillStyle = view.colours.paper
    c.fillRect(x - half, y - 11, half * 2, 14)
    c.globalAlpha = alpha
    c.fillStyle = colour
    c.fillText(text, x, y)
  }
  c.globalAlpha = 1
}
