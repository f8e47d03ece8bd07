/**
 * What a search writes down on its way, besides what board and surface know themselves. For "acts
 * once": one press, chosen at any moment, is followed by tags on its messages. For "a start moves
 * nothing": that the surface began anew, and that one step was asked for since.
 */
import type { Frame, Row } from './frame'
import { ABOUT, ACTED, ASKED, ASKS, NEXT } from './tables/table'
import { WAITING } from './tables/surface'
import {
  ASKED_AT,
  DID,
  lengthOf,
  messageAt,
  OUTDONE,
  START,
  STARTED,
  STEP_UP,
  TAGS,
  TAKEN,
  untagged,
  UP,
  WATCHING,
} from './packing'

/** Notices of a search, beyond those of a move. */
export const TWICE = 1
export const MOVED = 2
export const JUMPED = 4

export class Watch {
  /** Whether what nothing can come of any more is left out. A story goes on to its end. */
  ends = true
  /** What was noticed when notes were taken last. */
  noticed = 0
  private readonly twice: boolean
  /** The surface says again what is not answered. */
  private readonly repeats: boolean
  private readonly copies: boolean

  constructor(
    private readonly system: Frame,
    copies: boolean,
  ) {
    this.twice = system.question === 'twice'
    this.copies = copies
    const belief = system.panel?.program.panel.belief
    this.repeats = belief?.policy === 'confirm' && belief.retries > 0
  }

  /**
   * Word 1 with what a row writes down. `before`: word 1 before it; `up`: what was on its way up
   * before.
   */
  noted(
    { note, message }: Row,
    w0: number,
    before: number,
    w1: number,
    move: number,
    up: number,
  ): number {
    this.noticed = 0
    switch (note) {
      case 'heard':
        return this.twice
          ? this.heard(w1, move, message?.nth ?? 0, message?.keeps === true, up)
          : this.stepped(w0, w1, move)
      case 'lost':
        return untagged(w1, message?.nth ?? 0)
      // Somebody did something since: what is shown then is no matter of the press that is watched.
      case 'done elsewhere':
      case 'pressed beside':
        return w1 & WATCHING ? w1 | TAKEN : w1
      case 'pressed':
        return w1 & WATCHING ? w1 | TAKEN | OUTDONE : w1
      case 'watched':
        return this.tagged(
          (w1 & ~(3 << ASKED_AT)) | WATCHING | (((move >>> ASKS) & ASKED) << ASKED_AT),
          1,
          w0,
          up,
        )
      // A repeat counts as the press itself, but not once another press has taken its place.
      case 'timed out':
        return (before & (WATCHING | OUTDONE)) === WATCHING
          ? this.tagged(w1, (move >>> ABOUT) & 0xf, w0, up)
          : w1
      case undefined:
        return w1
    }
  }

  /** How many messages of the press that is watched are on their way up. */
  watched(w1: number): number {
    return this.twice ? (COUNT[(w1 >>> TAGS) & 0xf] as number) : 0
  }

  /** Shown what is so after the press that is watched: whatever became of it is seen. */
  seen(w0: number, w1: number): number {
    return this.twice
      && this.system.showsIt
      && (w1 & WATCHING) !== 0
      && this.system.judge(w0, w1) > 0
      ? w1 | TAKEN
      : w1
  }

  /**
   * Nothing can come of the press that is watched any more: it arrived or was seen not to, and no
   * two of its messages can still act: it acted once at most, no copy of it comes, and it is not
   * said again, or with a number that the board has seen. What follows is what follows without a
   * watch.
   */
  isOver(w0: number, w1: number): boolean {
    if (!this.twice || !this.ends || (w1 & (WATCHING | TAKEN)) !== (WATCHING | TAKEN)) return false
    if (this.system.echoes && (w1 & (DID | OUTDONE)) === DID) return false
    const tags = COUNT[(w1 >>> TAGS) & 0xf] as number
    if (tags > 0 && (this.copies || tags > 1 || (w1 & DID) !== 0)) return false
    return (
      !this.repeats
      || (w1 & OUTDONE) !== 0
      || ((this.system.panel?.facts[w1 & NEXT.panel] as number) & WAITING) === 0
      || (tags === 0 && this.system.waitsInVain(w0, w1))
    )
  }

  /**
   * The press that is watched never reached the board; what is shown, if anything, is as if it had.
   */
  vanished(w0: number, w1: number): boolean {
    const { system } = this
    if ((w1 & (WATCHING | TAKEN)) !== WATCHING) return false
    return (
      !system.showsIt
      || (system.judge(w0, w1) < 0
        && ((system.panel?.shows[w1 & NEXT.panel] as number) & ASKED) === ((w1 >>> ASKED_AT) & 3))
    )
  }

  /** `tags`: which of what is said is the press watched. */
  private tagged(w1: number, tags: number, w0: number, up: number): number {
    return (w0 & UP) === 0 ? w1 : w1 | (((tags << lengthOf(up)) & 0xf) << TAGS)
  }

  private heard(w1: number, move: number, nth: number, keeps: boolean, up: number): number {
    let next = w1
    // What the board said comes back and acts: since the press nobody asked for that.
    if (move & ACTED && w1 & DID && this.system.messages.isEcho(messageAt(up, nth)))
      this.noticed = TWICE
    if (w1 & (1 << (TAGS + nth))) {
      if (move & ACTED && w1 & DID) this.noticed = TWICE
      next |= TAKEN | (move & ACTED ? DID : 0)
    }
    return keeps ? next : untagged(next, nth)
  }

  private stepped(w0: number, w1: number, move: number): number {
    const { values } = this.system.controller
    const note = w1 & START
    const step =
      (values[move & NEXT.controller] as number) - (values[w0 & NEXT.controller] as number)
    if (note === 0 || step === 0) return w1
    if (note === STARTED) this.noticed = MOVED
    else if (step !== (note === STEP_UP ? 1 : -1)) this.noticed = JUMPED
    return w1
  }
}

/** Bits that are set in a number of four. */
const COUNT = [0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4] as const
