/** The trials of a board against the design, over the connections of a desk. */
import { Against, STEP_MS, trialsOf, type Deed } from '../../core/live/against'
import type { Design } from '../../core/design/schema'
import type { TrialsView } from '../../core/live/view'
import type { Desk } from './desk'

export class Trier {
  readonly against: Against
  private timer: NodeJS.Timeout | undefined
  private told = false

  /** `over`: told once, when all is tried. */
  constructor(
    private readonly desk: Desk,
    design: Design,
    secrets: Readonly<Record<string, string>>,
    private readonly over: (view: TrialsView) => Promise<unknown>,
  ) {
    const up = desk.links.filter(c => c.live.up)
    const epochS = Math.floor((Date.now() - desk.now) / 1000)
    this.against = new Against(
      design,
      trialsOf(
        design,
        up.map(c => c.of.linkId),
      ),
      { link: id => desk.byLink(id)?.live, does: deed => this.does(deed) },
      secrets,
      epochS,
      desk.now,
    )
    for (const { of, live } of up) live.tap = (text, now) => this.against.sent(of.linkId, text, now)
    this.timer = setInterval(() => this.look(), STEP_MS).unref()
  }

  view(): TrialsView {
    const { results, trials, current } = this.against
    const of = (kind: 'message' | 'drill') => ({
      passed: results.filter(r => r.kind === kind && r.passed).length,
      of: trials.filter(t => t.kind === kind).length,
    })
    return {
      current,
      done: results.length,
      messages: of('message'),
      drills: of('drill'),
      failed: results.filter(r => !r.passed),
      again: results.filter(r => r.passed && r.before !== ''),
      isOver: this.against.over,
    }
  }

  close(): void {
    clearInterval(this.timer)
    for (const { live } of this.desk.links) live.tap = null
  }

  private look(): void {
    this.against.look(this.desk.now)
    this.desk.tellSoon()
    if (!this.against.over || this.told) return
    this.told = true
    this.close()
    // That it is not kept is no reason to end.
    this.over(this.view()).catch(console.error)
  }

  private does(deed: Deed): void {
    const connection = this.desk.byLink(deed.linkId)
    switch (deed.do) {
      case 'say':
        return connection?.does(now => connection.live.say(deed.text, now))
      case 'press':
        return connection?.does(now => connection.live.press(deed.loadId, deed.want, now))
      case 'scene':
        return connection?.does(now => connection.live.scene(deed.sceneId, now))
      case 'drop':
        return connection?.drop()
      case 'restore':
        return connection?.restore()
    }
  }
}
