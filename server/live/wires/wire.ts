/**
 * The far end of a link as this server reaches it: a serial port, an address, a port of a program
 * that runs here, or a page that has a port of its browser. All are used alike.
 */
import type { Via } from '../../../core/surfaces/surface'

/** What a wire tells. */
export interface WireEvents {
  up(): void
  /** `why`: in words; what is tried next stands in it. */
  down(why: string): void
  /** `about`: index of the load of the command that is answered, -1 = none or several. */
  heard(text: string, via: Via, about: number): void
}

export interface Wire {
  /** `about`: index of the load that it commands, -1 = none. What cannot be sent is dropped. */
  send(text: string, about: number): void
  close(): void
}

const FIRST_AGAIN_MS = 500
const LAST_AGAIN_MS = 15_000

/** Tries again and again, each time after twice as long, and says so. */
export class Again {
  private wait = FIRST_AGAIN_MS
  private timer: NodeJS.Timeout | undefined

  constructor(
    private readonly events: WireEvents,
    private readonly then: () => void,
  ) {}

  lost(why: string): void {
    this.events.down(`${why}; trying again in ${Math.max(1, Math.round(this.wait / 1000))} s`)
    clearTimeout(this.timer)
    this.timer = setTimeout(this.then, this.wait).unref()
    this.wait = Math.min(LAST_AGAIN_MS, this.wait * 2)
  }

  reached(): void {
    this.wait = FIRST_AGAIN_MS
    this.stop()
  }

  stop(): void {
    clearTimeout(this.timer)
  }
}
