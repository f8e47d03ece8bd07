/**
 * A port that a page of Nolvi has from its browser: its bytes go through the page. What is to be
 * sent waits for the page to fetch it; whoever has not come for it for a while is gone.
 */
import type { Wire, WireEvents } from './wire'

/** A page that fell silent is gone, ms. */
const SILENT_MS = 6000
const MOST_WAITING = 256

/** What a page tells. */
export interface PageNews {
  /** Its port is open; null = as before. */
  open?: boolean | undefined
  why?: string | undefined
  heard?: string | undefined
}

export class PageWire implements Wire {
  private isUp = false
  private readonly waiting: string[] = []
  private watch: NodeJS.Timeout | undefined
  private wake: (() => void) | null = null

  constructor(private readonly events: WireEvents) {
    events.down('its page has not opened the port yet')
  }

  /** From the page. */
  tell({ open, why, heard }: PageNews): void {
    this.alive()
    if (open === true && !this.isUp) {
      this.isUp = true
      this.waiting.length = 0
      this.events.up()
    }
    if (heard !== undefined && this.isUp) this.events.heard(heard, 'stream', -1)
    if (open === false) this.lost(why)
  }

  /** What is to be sent, as soon as there is something, or nothing after `ms`. */
  async fetch(ms: number): Promise<string[]> {
    this.alive()
    if (!this.waiting.length)
      await new Promise<void>(resolve => {
        const timer = setTimeout(resolve, ms)
        this.wake = () => {
          clearTimeout(timer)
          resolve()
        }
      })
    this.wake = null
    this.alive()
    return this.waiting.splice(0)
  }

  send(text: string): void {
    if (!this.isUp || this.waiting.length >= MOST_WAITING) return
    this.waiting.push(text)
    this.wake?.()
  }

  close(): void {
    clearTimeout(this.watch)
    this.wake?.()
  }

  private alive(): void {
    clearTimeout(this.watch)
    this.watch = setTimeout(
      () => this.lost('the page that has the port is gone'),
      SILENT_MS,
    ).unref()
  }

  /** What it says of itself may come after it is lost. */
  private lost(why: string | undefined): void {
    if (this.isUp || why !== undefined) this.events.down(why ?? 'the port was closed')
    this.isUp = false
  }
}
