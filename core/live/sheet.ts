/**
 * The sheet, alive: what is so of each load by what was said last, and who would show something
 * else. A surface is wrong once it shows another value longer than a message takes.
 */
import { maybeMessage } from '../design/find'
import type { Design } from '../design/schema'
import { worstWayMs } from '../design/links/traits'
import type { LiveLink, Told } from './link'

/** What was said so shortly before is what was wrong, ms. */
const JUST_MS = 300

/** What one surface shows of a load. `wrongMs`: for how long it has been something else. */
export interface LiveCell {
  surfaceId: string
  linkId: string
  shown: string
  asked: string | null
  wrongMs: number | null
  why: string
}
export interface LiveRow {
  loadId: string
  /**
   * What was said last of it, over which link, or what is on its pin where that is known ("");
   * null = nothing yet.
   */
  truth: (Told & { linkId: string }) | null
  cells: LiveCell[]
}

export class LiveSheet {
  private readonly since = new Map<string, number>()

  constructor(private readonly design: Design) {}

  /** `pins`: values of loads that are known whatever is said; "" = no power. */
  rows(
    links: readonly LiveLink[],
    now: number,
    pins: Readonly<Record<string, string>> = {},
  ): LiveRow[] {
    return this.design.loads.map(({ id }, load) => {
      const pin = pins[id]
      const truth = pin ? { value: pin, atMs: now, linkId: '' } : truthOf(links, load)
      const cells = links.flatMap(live =>
        live.watched.flatMap((surfaceId): LiveCell[] => {
          const showing = live.showing(surfaceId, load)
          if (!showing) return []
          const wrongMs = this.wrongFor(`${surfaceId} ${id}`, showing.shown, truth, live, now)
          const why = wrongMs === null ? '' : whyWrong(live, id, load, now, wrongMs)
          return [{ surfaceId, linkId: live.link.id, ...showing, wrongMs, why }]
        }),
      )
      return { loadId: id, truth, cells }
    })
  }

  /** ms; null where it is not wrong, or what is shown says that it may be. */
  private wrongFor(
    key: string,
    shown: string,
    truth: Told | null,
    live: LiveLink,
    now: number,
  ): number | null {
    const isSure = shown !== 'waiting' && shown !== 'unknown' && !shown.startsWith('stale-')
    if (!truth || !isSure || shown === truth.value) {
      this.since.delete(key)
      return null
    }
    const since = this.since.get(key) ?? now
    this.since.set(key, since)
    return now - since > 2 * worstWayMs(live.link) ? now - since : null
  }
}

/** What was said last of a load (index), over which link; null = nothing yet. */
export function truthOf(links: readonly LiveLink[], load: number): LiveRow['truth'] {
  let truth: LiveRow['truth'] = null
  for (const { says, link } of links) {
    const told = says[load]
    if (told && (!truth || told.atMs >= truth.atMs)) truth = { ...told, linkId: link.id }
  }
  return truth
}

function whyWrong(
  { link, up, changedAt, says }: LiveLink,
  loadId: string,
  load: number,
  now: number,
  wrongMs: number,
): string {
  if (!up) return `its link is down${changedAt === null ? '' : ` for ${seconds(now - changedAt)}`}`
  // Told when it was wrong already: it is not that nothing came.
  if ((says[load]?.atMs ?? -Infinity) > now - wrongMs - JUST_MS)
    return 'what came over its link says so: the table takes one message for another, or it is old'
  const message = maybeMessage(link, loadId)
  if (message && !message.change)
    return 'this link reports no change that was made elsewhere: it learns of it when it asks'
  return 'the change was reported elsewhere, but did not come over this link'
}

function seconds(ms: number): string {
  return `${Math.round(ms / 1000)} s`
}
