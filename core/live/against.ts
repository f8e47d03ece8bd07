/**
 * The board in the hand against the design: everything that the table of a link can say is said,
 * and what is answered is compared with what the controller of the design answers; drills that need
 * no hands are played, and judged as on the bench. Pure: times are handed in, deeds handed out.
 */
import { drillsFor } from '../bench/drills'
import type { Action, Expectation } from '../bench/script'
import { maybeMessage } from '../design/find'
import { partOf } from '../design/part'
import { hasSpeed, isAnswered, speaksRoutes, worstWayMs } from '../design/links/traits'
import { isHeld, isPulse } from '../design/outputs/traits'
import type { Design, Link } from '../design/schema'
import { restOf } from '../design/values'
import { codeUses } from '../messages/clashes'
import { wireOf } from '../design/wire'
import { Decoder, type Said } from './decode'
import type { LiveLink } from './link'
import { truthOf } from './sheet'
import { Twin, type Saying } from './twin'

export type Deed =
  | { do: 'say'; linkId: string; text: string }
  | { do: 'press'; linkId: string; loadId: string; want: string }
  | { do: 'scene'; linkId: string; sceneId: string }
  | { do: 'drop' | 'restore'; linkId: string }

/** `expects`: as on the bench; none = what the controller of the design says to the same. */
export interface Trial {
  id: string
  kind: 'message' | 'drill'
  linkId: string
  words: string
  deeds: { atMs: number; deed: Deed }[]
  expects: Expectation[]
  untilMs: number
}
export interface Tried {
  trialId: string
  kind: Trial['kind']
  words: string
  passed: boolean
  /** What was expected and what came, in words; "" = as expected. */
  found: string
  /** What was found before it was tried again, in words; "" = it was tried once. */
  before: string
}

/** Whoever carries it out. */
export interface Carrying {
  link: (id: string) => LiveLink | undefined
  does: (deed: Deed) => void
}

/** After the last that came nothing is waited for longer than this, ms. */
const QUIET_MS = 150
/** What may not be over sooner, ms. */
const LEAST_MS = 400
/** What did not come in time is waited for so much longer: late is another thing than never. */
const LATE_MS = 1000
/**
 * So often is tried what came, but late: a computer that is busy reads late. A board that is late
 * is so each time. What never came is not tried again: it would begin from another state.
 */
const TRIES = 3

/** What can be tried over the links that are connected, messages first. */
export function trialsOf(design: Design, linkIds: readonly string[]): Trial[] {
  const links = design.links.filter(l => linkIds.includes(l.id))
  return [...links.flatMap(l => messageTrials(design, l)), ...drillTrials(design, linkIds)]
}

function messageTrials(design: Design, link: Link): Trial[] {
  // A number that is handed out is another one each time: what is answered to it is not compared.
  if (isAnswered(link.auth)) return []
  const untilMs = Math.max(LEAST_MS, 3 * worstWayMs(link) + 100)
  const trial = (id: string, words: string, ...deeds: Deed[]): Trial => ({
    id: `${link.id} ${id}`,
    kind: 'message',
    linkId: link.id,
    words,
    deeds: deeds.map((deed, i) => ({ atMs: i * 20, deed })),
    expects: [],
    untilMs,
  })
  const say = (text: string): Deed => ({ do: 'say', linkId: link.id, text })
  const isFree = link.auth.kind === 'none'
  const uses = codeUses(design, link).filter(
    u => u.what !== 'stream of reports' && u.what !== 'page of the board',
  )
  const commands = uses.map((u, i): Trial => {
    if (u.loadId === null || isFree)
      return trial(`code ${i}`, u.what, say(wireOf(link, u.code, 'command')))
    const deed: Deed = { do: 'press', linkId: link.id, loadId: u.loadId, want: u.value ?? '' }
    return trial(`code ${i}`, u.what, deed)
  })
  const [first] = uses.filter(u => u.loadId !== null)
  const strange = speaksRoutes(link) ? '/no-such-route' : wireOf(link, 'zz', 'command')
  const more = [
    trial('strange', 'a message that is in no table', say(strange)),
    ...uses.flatMap((u, i) =>
      u.loadId !== null && isFree
        ? [
            trial(
              `twice ${i}`,
              `${u.what}, said twice`,
              ...[u, u].map(x => say(wireOf(link, x.code, 'command'))),
            ),
          ]
        : [],
    ),
    ...(first && !isFree
      ? [
          trial(
            'bare',
            `${first.what}, without its proof`,
            say(wireOf(link, first.code, 'command')),
          ),
        ]
      : []),
    ...(first && isFree && hasSpeed(link)
      ? [
          trial(
            'together',
            'two messages without a pause',
            say(
              wireOf(link, first.code, 'command')
                + wireOf(link, 'askCode' in link ? link.askCode : '', 'command'),
            ),
          ),
        ]
      : []),
  ]
  // Back to rest, so that nothing stays on.
  const rests = design.loads.flatMap((load): Trial[] => {
    const message = maybeMessage(link, load.id)
    if (!message || isHeld(load.output) || isPulse(load.output)) return []
    const want = restOf(load.output)
    return [
      trial(`rest ${load.id}`, `${load.name} back to rest`, {
        do: 'press',
        linkId: link.id,
        loadId: load.id,
        want,
      }),
    ]
  })
  return [...commands, ...more, ...rests]
}

/** Drills that need nothing but keys and links that are let go and taken up. */
function drillTrials(design: Design, linkIds: readonly string[]): Trial[] {
  return design.loads.flatMap(load => {
    const part = partOf(design, load.controllerId)
    return drillsFor(part, load.id).flatMap((drill): Trial[] => {
      const deeds = drill.script.steps.map(s => {
        const deed = deedOf(design, s.action)
        return deed && linkIds.includes(deed.linkId) ? { atMs: s.atMs, deed } : null
      })
      if (deeds.some(d => d === null)) return []
      const [first] = deeds as Trial['deeds']
      return [
        {
          id: `drill ${load.id} ${drill.id}`,
          kind: 'drill',
          linkId: first?.deed.linkId ?? '',
          words: `${drill.title}: ${load.name}`,
          deeds: deeds as Trial['deeds'],
          expects: drill.script.expects ?? [],
          untilMs: drill.script.untilMs ?? 0,
        },
      ]
    })
  })
}

function deedOf(design: Design, action: Action): Deed | null {
  const { surfaceId, loadId, want, sceneId, linkId } = action as Partial<Record<string, string>>
  const surface = design.surfaces.find(s => s.id === surfaceId)
  const of = surface && 'linkId' in surface ? surface.linkId : ''
  switch (action.do) {
    case 'key':
    case 'slide':
      return { do: 'press', linkId: of, loadId: loadId ?? '', want: want ?? '' }
    case 'scene':
      return { do: 'scene', linkId: of, sceneId: sceneId ?? '' }
    case 'linkDown':
      return { do: 'drop', linkId: linkId ?? '' }
    case 'linkUp':
      return { do: 'restore', linkId: linkId ?? '' }
    default:
      return null
  }
}

interface AtHand {
  trial: Trial
  /** How often it was tried before, and what was found the first time. */
  tries: number
  earlier: string
  /** Something did not come in time: it is only waited for. */
  isLate: boolean
  beganAt: number
  done: number
  /** What the design says over each link, in words. */
  expected: { linkId: string; words: string }[]
  /** By link, how many messages had crossed. */
  from: ReadonlyMap<string, number>
  lastAt: number
  /** What loads were when it began: a question under way may still be answered so. */
  before: ReadonlyMap<string, string>
  judged: { expectation: Expectation; words: string; isLate: boolean }[]
}

export class Against {
  readonly results: Tried[] = []
  private hand: AtHand | null = null
  private readonly decoders = new Map<string, Decoder>()
  /** By controller. */
  private readonly twins = new Map<string, Twin>()
  private at = 0

  constructor(
    private readonly design: Design,
    readonly trials: readonly Trial[],
    private readonly carrying: Carrying,
    secrets: Readonly<Record<string, string>>,
    epochS: number,
    now: number,
  ) {
    for (const linkId of new Set(trials.map(t => t.linkId))) {
      const link = design.links.find(l => l.id === linkId)
      if (!link || this.twins.has(link.controllerId)) continue
      const twin = new Twin(partOf(design, link.controllerId), secrets, epochS)
      twin.boot(now)
      this.twins.set(link.controllerId, twin)
    }
    this.agree(now)
  }

  get over(): boolean {
    return this.at >= this.trials.length && this.hand === null
  }

  get current(): string {
    return this.hand?.trial.words ?? ''
  }

  /** Whatever is sent goes to both: a link tells of it here. */
  sent(linkId: string, text: string, now: number): void {
    const twin = this.twinOf(linkId)
    this.expect(twin?.hears(linkId, text, now) ?? [])
  }

  private expect(sayings: readonly Saying[]): void {
    const { hand } = this
    if (hand?.trial.kind !== 'message') return
    for (const { linkId, text, via } of sayings)
      if (this.carrying.link(linkId)?.up)
        hand.expected.push(...this.words(linkId, text, via).map(words => ({ linkId, words })))
  }

  look(now: number): void {
    for (const twin of this.twins.values())
      while (twin.due !== null && twin.due <= now) this.expect(twin.tick(twin.due))
    const trial = this.hand ? undefined : this.trials[this.at]
    if (trial) {
      this.at++
      this.begin(trial, 0, '', now)
    }
    const { hand } = this
    if (!hand) return
    const passed = now - hand.beganAt
    const { deeds } = hand.trial
    for (let next = deeds[hand.done]; next && next.atMs <= passed; next = deeds[hand.done]) {
      hand.done++
      hand.lastAt = now
      this.carrying.does(next.deed)
    }
    if (hand.trial.kind === 'drill') this.drill(hand, now)
    else this.message(hand, now)
  }

  private begin(trial: Trial, tries: number, earlier: string, now: number): void {
    const crossed = (id: string) => this.carrying.link(id)?.crossed.at(-1)?.n ?? 0
    this.hand = {
      trial,
      tries,
      earlier,
      isLate: false,
      beganAt: now,
      done: 0,
      expected: [],
      from: new Map(this.design.links.map(l => [l.id, crossed(l.id)])),
      lastAt: now,
      before: new Map(this.design.loads.map(l => [l.id, this.valueOf(l.id)])),
      judged: [],
    }
  }

  private twinOf(linkId: string): Twin | undefined {
    const link = this.design.links.find(l => l.id === linkId)
    return link && this.twins.get(link.controllerId)
  }

  /** The twin is brought to where the board is, by what the board says of itself. */
  private agree(now: number): void {
    for (const link of this.design.links) {
      const live = this.carrying.link(link.id)
      const twin = this.twinOf(link.id)
      if (!live?.up || !twin) continue
      twin.link(link.id, true, now)
      const uses = codeUses(this.design, link)
      this.design.loads.forEach((load, i) => {
        const told = live.says[i]
        const use = uses.find(u => u.loadId === load.id && u.value === told?.value)
        if (told && use && link.auth.kind === 'none')
          twin.hears(link.id, wireOf(link, use.code, 'command'), now)
      })
    }
  }

  /** What the board told since is so: a difference is told once, not by all that follows it. */
  private follow(since: number): void {
    const lives = this.design.links.flatMap(l => this.carrying.link(l.id) ?? [])
    this.design.loads.forEach((load, i) => {
      const truth = truthOf(lives, i)
      const twin = this.twins.get(load.controllerId)
      if (truth && twin && truth.atMs >= since && truth.value !== twin.value(load.id))
        twin.takes(load.id, truth.value)
    })
  }

  private words(linkId: string, text: string, via: Parameters<Decoder['read']>[2]): string[] {
    const decoder = this.decoderOf(linkId)
    decoder?.rest('down')
    return told(decoder?.read('down', text, via) ?? [])
  }

  private decoderOf(linkId: string): Decoder | null {
    const link = this.design.links.find(l => l.id === linkId)
    if (!link) return null
    const decoder = this.decoders.get(linkId) ?? new Decoder(this.design, link)
    this.decoders.set(linkId, decoder)
    return decoder
  }

  private heard({ from }: AtHand, linkId: string): string[] {
    const crossed = this.carrying.link(linkId)?.crossed ?? []
    return told(crossed.filter(c => c.n > (from.get(linkId) ?? 0) && c.way === 'down'))
  }

  private message(hand: AtHand, now: number): void {
    const { trial } = hand
    if (hand.done < trial.deeds.length) return
    const waited = now - hand.lastAt
    const parts = this.design.links
      .filter(l => this.carrying.link(l.id)?.up)
      .map(l => this.compared(hand, l.id))
    const isMissing = parts.some(p => p.missing)
    const isWrong = parts.some(p => p.wrong)
    if (waited < (isMissing ? trial.untilMs : QUIET_MS)) return
    hand.isLate ||= isMissing
    if (isMissing && !isWrong && waited < trial.untilMs + LATE_MS) return
    const found = parts.map(p => p.found).filter(Boolean)
    if (hand.isLate && !found.length) found.push(`it came only after ${waited} ms`)
    this.ends(hand, found, hand.isLate && !isMissing && !isWrong, now)
  }

  /** Whether one link lacks something or has too much, and both in words. */
  private compared(
    hand: AtHand,
    linkId: string,
  ): { missing: boolean; wrong: boolean; found: string } {
    const { trial } = hand
    const expected = hand.expected.flatMap(e => (e.linkId === linkId ? e.words : []))
    const heard = this.heard(hand, linkId)
    const missing = without(expected, heard)
    const extra = without(heard, expected).filter(w => !this.isSo(hand, linkId, w))
    // Over HTTP a message in no table is answered by its status, which no controller says.
    const isStrange = trial.id.endsWith(' strange')
    const wrong = isStrange ? extra.filter(w => !w.startsWith('refused')) : extra
    const { name = '' } = this.design.links.find(l => l.id === linkId) ?? {}
    const found = [
      ...(missing.length ? [`expected "${missing.join('", "')}", which did not come`] : []),
      ...(wrong.length ? [`"${wrong.join('", "')}" came, which the design does not say`] : []),
    ]
    return {
      missing: missing.length > 0,
      wrong: wrong.length > 0,
      found: found.length ? `${name}: ${found.join('; ')}` : '',
    }
  }

  private valueOf(loadId: string): string {
    const load = this.design.loads.find(l => l.id === loadId)
    return (load && this.twins.get(load.controllerId)?.value(loadId)) ?? ''
  }

  /** What is said again and again of what is so, or just was, is no mistake. */
  private isSo({ before }: AtHand, linkId: string, words: string): boolean {
    const link = this.design.links.find(l => l.id === linkId)
    const decoder = this.decoderOf(linkId)
    if (!link || !decoder) return false
    return partOf(this.design, link.controllerId).loads.some(({ id }) =>
      [this.valueOf(id), before.get(id) ?? ''].some(v => decoder.reportWords(id, v) === words),
    )
  }

  private drill(hand: AtHand, now: number): void {
    const passed = now - hand.beganAt
    const { trial } = hand
    for (const e of trial.expects) {
      if (hand.judged.some(j => j.expectation === e)) continue
      if (e.kind === 'stays') hand.judged.push({ expectation: e, words: '', isLate: false })
      else if (passed >= e.atMs) {
        const words = this.unmet(e)
        const lateMs = passed - e.atMs - e.withinMs
        const isLate = lateMs >= 0 && words === ''
        const late = isLate ? `what is expected came ${lateMs} ms too late` : words
        if (words === '' || lateMs >= LATE_MS)
          hand.judged.push({ expectation: e, words: late, isLate })
      }
    }
    if (hand.judged.length < trial.expects.length || hand.done < trial.deeds.length) return
    const unmet = hand.judged.filter(j => j.words !== '')
    this.ends(
      hand,
      unmet.map(j => j.words),
      unmet.length > 0 && unmet.every(j => j.isLate),
      now,
    )
  }

  /** What is otherwise than expected, in words; "" = nothing. */
  private unmet(e: Exclude<Expectation, { kind: 'stays' }>): string {
    const load = this.design.loads.findIndex(l => l.id === e.loadId)
    const { name = '' } = this.design.loads[load] ?? {}
    const lives = this.design.links.flatMap(l => this.carrying.link(l.id) ?? [])
    const truth = truthOf(lives, load)?.value
    if (e.kind === 'is')
      return truth === e.value ? '' : `${name} is ${truth ?? 'not known'}, not ${e.value}`
    const wanted = e.value === 'truth' ? truth : e.value
    const wrong = lives.flatMap(l =>
      l.watched.flatMap(id => {
        if (e.surfaces.length && !e.surfaces.includes(id)) return []
        const showing = l.showing(id, load)
        const surface = this.design.surfaces.find(s => s.id === id)?.name ?? id
        return !showing || showing.shown === wanted
          ? []
          : [`${surface} shows ${showing.shown}, ${name} is ${wanted ?? 'not known'}`]
      }),
    )
    return wrong.join('; ')
  }

  /** `onlyLate`: time alone was wrong. */
  private ends(
    { trial, tries, earlier, beganAt }: AtHand,
    words: readonly string[],
    onlyLate: boolean,
    now: number,
  ): void {
    const found = words.join('; ')
    if (onlyLate && tries + 1 < TRIES) return this.begin(trial, tries + 1, earlier || found, now)
    if (found) this.follow(beganAt)
    this.results.push({
      trialId: trial.id,
      kind: trial.kind,
      words: trial.words,
      passed: found === '',
      found,
      before: earlier,
    })
    this.hand = null
  }
}
/** How often it looks, ms. */
export const STEP_MS = 20

/** What a list of messages says, as far as it can be compared. */
function told(said: readonly Pick<Said, 'kind' | 'words'>[]): string[] {
  return said.flatMap(s => {
    if (s.kind === 'hello') return ['who is there']
    if (s.kind === 'refused') return [s.words.startsWith('refused') ? 'refused' : s.words]
    return s.kind === 'reading' ? [s.words.replace(/ is .*/, ' is read')] : [s.words]
  })
}

/** What is left of a list when another is taken out of it, one for one. */
function without(list: readonly string[], taken: readonly string[]): string[] {
  const rest = [...taken]
  return list.filter(item => {
    const at = rest.indexOf(item)
    if (at >= 0) rest.splice(at, 1)
    return at < 0
  })
}
