/**
 * Hands are slow. Where nobody can move the one hand control a second time before what the first
 * time brought about has arrived, a search in time leaves that out. It keeps a tag on each report
 * that the hand brought about, while it is on its way down.
 */
import type { Control } from '../design/schema'
import type { Row } from './frame'
import { lengthOf, sortedWith, withoutTag } from './packing'

/** Between two moves of one finger on one control, ms: it has to leave and come back. */
const FINGER_MS = 200
/** A lever is flipped and flipped back no faster than this, ms. */
const FLIP_MS = 150
/** Tags of what is on its way down, in word 0. */
const HURRIED = 24
const ALL_HURRIED = 0xf << HURRIED

/** The least time between two moves of a control that both count, ms. */
export function leastGapMs(control: Control): number {
  return control.debounceMs + (control.kind === 'push' ? control.lockoutMs + FINGER_MS : FLIP_MS)
}

export class Pace {
  /** Events of the hand that is slow; none where several hands could be quick together. */
  constructor(private readonly events: readonly number[]) {}

  get active(): boolean {
    return this.events.length > 0
  }

  /**
   * Whether an event can be so soon: not where what the same hand did before is still on its way.
   */
  allows(event: number, w0: number): boolean {
    return (w0 & ALL_HURRIED) === 0 || !this.events.includes(event)
  }

  isHand(event: number): boolean {
    return this.events.includes(event)
  }

  /** Word 0 with tags after a row. `before`, `after`: what is on its way down. */
  tagged(row: Row, event: number, w0: number, before: number, after: number): number {
    if (row.falls) return w0 & ~ALL_HURRIED
    let tags = (w0 >>> HURRIED) & 0xf
    let length = lengthOf(before)
    if (row.message?.dir === 'down' && !row.message.keeps) {
      tags = withoutTag(tags, row.message.nth)
      length--
    }
    if (this.events.includes(event)) for (let i = length; i < lengthOf(after); i++) tags |= 1 << i
    return (w0 & ~ALL_HURRIED) | (tags << HURRIED)
  }

  /** Messages on the way down and their tags, sorted together. */
  sorted(w0: number, down: number): [w0: number, down: number] {
    const { queue, tags } = sortedWith(down, (w0 >>> HURRIED) & 0xf)
    return [(w0 & ~ALL_HURRIED) | (tags << HURRIED), queue]
  }

  /** Word 0 without tags. */
  untagged(w0: number): number {
    return w0 & ~ALL_HURRIED
  }
}
