/**
 * Repairs: for a promise that is broken, the smallest changes of the design that make it hold,
 * found by proving them. Each is a way of telling, waiting or guarding that a design may use; the
 * same list says what carries a promise that holds: what breaks it when it is taken away.
 */
import { answeredAuth, SIGNED, authEdit } from './auth-rules'
import type { Fix } from './finding'
import { applyEdit, type Edit } from '../design/edits/edits'
import { handSurfaces, linkOf, loadOf, maybeMessage, surfaceOf } from '../design/find'
import {
  sensesPanel,
  speaksBytes,
  hasRoomBehind,
  onNetwork,
  isAnswered,
  worstWayMs,
} from '../design/links/traits'
import { partOfLoad } from '../design/part'
import { bestPins, freePin, needs, pinLabel, SENSE } from '../design/pins'
import type { ByteLink, Design, Link, Load, Message, FarSurface } from '../design/schema'
import { fullOf } from '../design/values'
import { dialectEdit, nextCodes } from '../messages/assign'
import { clashes, clashLoads } from '../messages/clashes'
import { signatureBytes } from '../messages/sealing'
import { NUMBER_LENGTH } from '../messages/numbers'
import { reportText, streams } from '../messages/table'
import type { Bounds } from '../proof/bounds'
import { commandMs, roundTripMs } from '../proof/project'
import { proveAll, type Verdict } from '../proof/prove'
import { PROMISE_IDS, type PromiseId } from '../proof/promises'
import { Searched } from '../proof/same'
import { isHeld, isOpposed, limitsOf } from '../design/outputs/traits'
import { mediumOf } from '../design/links/media'
import { speaksWords } from '../design/wire'
import { lines } from '../design/dialects/lines'
import { actsOn } from '../design/targets'
import { first, nth } from '../units/lists'

/** `weight` orders repairs: bytes, time, pins and habits on one scale, told in docs/proof.md. */
export interface Cost {
  weight: number
  words: string
}
export interface Way {
  /** What doing it is called: "Report on change". */
  words: string
  /** What it is called where it is there and carries a promise: "the report of each change". */
  carries: string
  helps: readonly PromiseId[]
  /** null: it is there already. */
  add: Edit | null
  /** null: it is not there, or cannot be taken away. */
  remove: Edit | null
  cost: Cost
}
export interface Repair {
  fixes: Fix[]
  edit: Edit
  words: string
  cost: Cost
  situations: number
}
export interface Carrier {
  words: string
  breaks: string
}

const POLL_MS = 2000
const WINDOW_MS = 60_000
const DEAD_TIME_MS = 300

/** Ways that bear on a load, all of them or those of one surface. */
export function waysOf(design: Design, loadId: string, surface?: FarSurface): Way[] {
  const load = loadOf(design, loadId)
  return surface
    ? surfaceWays(design, load, surface)
    : [...handWays(design, load), ...loadWays(design, load)]
}

function surfaceWays(design: Design, load: Load, surface: FarSurface): Way[] {
  const link = linkOf(design, surface.linkId)
  const message = maybeMessage(link, load.id)
  return message ? new SurfaceWays(design, load, surface, link, message).all() : []
}

class SurfaceWays {
  private readonly ways: Way[] = []
  /** Bytes of one report. */
  private readonly bytes: number
  private readonly tellsItself: boolean

  constructor(
    private readonly design: Design,
    private readonly load: Load,
    private readonly surface: FarSurface,
    private readonly link: Link,
    private readonly message: Message,
  ) {
    this.bytes = reportText(link, load, message, fullOf(load.output)).length
    this.tellsItself = speaksBytes(link) || streams(link)
  }

  all(): Way[] {
    this.reports()
    this.connect()
    this.asks()
    this.beliefs()
    this.numbers()
    this.codes()
    this.keys()
    this.guards()
    return this.ways
  }

  private way(
    words: string,
    carries: string,
    helps: readonly PromiseId[],
    present: boolean,
    add: Edit,
    remove: Edit | null,
    weight: number,
    cost: string,
  ): void {
    this.ways.push({
      words,
      carries,
      helps,
      add: present ? null : add,
      remove: present ? remove : null,
      cost: { weight, words: cost },
    })
  }

  private report(patch: { ack?: boolean; change?: boolean }): Edit {
    return { type: 'setReport', linkId: this.link.id, loadId: this.load.id, ...patch }
  }

  /** What the board answers and tells. */
  private reports(): void {
    const { surface, message, bytes, tellsItself } = this
    this.way(
      `${surface.name}: answer each command`,
      `the answer to each command of ${surface.name}`,
      ['P1', 'P2'],
      message.ack,
      this.report({ ack: true }),
      this.report({ ack: false }),
      1,
      `${bytes} bytes a command`,
    )
    this.way(
      `${surface.name}: report every change`,
      `the report of every change to ${surface.name}`,
      ['P1', 'P2'],
      message.change && tellsItself,
      this.report({ change: true }),
      this.report({ change: false }),
      1.5,
      `${bytes} bytes a change`,
    )
  }

  /** The whole state when somebody connects, where the board can sense that. */
  private connect(): void {
    const { design, surface, link } = this
    if (mediumOf(link).connects) {
      const connect: Edit = { type: 'reportOnConnect', linkId: link.id, onConnect: true }
      const pin = !sensesPanel(link) ? freePin(design, SENSE) : undefined
      const edits: Edit[] = [
        ...(link.onConnect ? [] : [connect]),
        ...(pin === undefined
          ? []
          : [{ type: 'setLink', linkId: link.id, patch: { statusPin: pin } } satisfies Edit]),
      ]
      if (sensesPanel(link) || pin !== undefined) {
        this.way(
          `${surface.name}: tell the whole state on connect`,
          `the whole state on connect of ${surface.name}`,
          ['P1', 'P2', 'P7'],
          link.onConnect && sensesPanel(link),
          edits.length > 1
            ? {
                type: 'together',
                edits,
                words: `${link.name}: the board senses who connects, and tells the whole state`,
              }
            : (edits[0] ?? connect),
          { ...connect, onConnect: false },
          pin === undefined ? 2 : 4,
          pin === undefined
            ? 'the whole state, once a connection'
            : `${pinLabel(design, pin)} and a wire to the module`,
        )
      }
    }
  }

  /** The surface asks. */
  private asks(): void {
    const { surface } = this
    this.way(
      `${surface.name}: ask every ${POLL_MS / 1000} s`,
      `the question of ${surface.name} every ${surface.pollMs / 1000} s`,
      ['P1', 'P2', 'P7'],
      surface.pollMs > 0,
      { type: 'setPoll', surfaceId: surface.id, pollMs: POLL_MS },
      { type: 'setPoll', surfaceId: surface.id, pollMs: 0 },
      6,
      `a question and an answer every ${POLL_MS / 1000} s, up to that long stale`,
    )
  }

  /** What the surface takes for true, and when. */
  private beliefs(): void {
    const { surface, link } = this
    const policy = surface.belief
    if (policy.policy === 'assume') {
      this.ways.push({
        words: `${surface.name}: wait for the answer instead of assuming`,
        carries: '',
        helps: ['P1', 'P2'],
        add: { type: 'setBelief', surfaceId: surface.id, patch: { policy: 'confirm' } },
        remove: null,
        cost: { weight: 2, words: `keys wait up to ${roundTripMs(link)} ms for the answer` },
      })
      this.ways.push({
        words: `${surface.name}: show only what is reported`,
        carries: '',
        helps: ['P1', 'P2'],
        add: { type: 'setBelief', surfaceId: surface.id, patch: { policy: 'report' } },
        remove: null,
        cost: {
          weight: 2.5,
          words: `a press shows nothing until the report, up to ${roundTripMs(link)} ms`,
        },
      })
    } else
      this.way(
        '',
        policy.policy === 'confirm'
          ? `${surface.name} waits for the answer`
          : `${surface.name} shows only what is reported`,
        ['P1', 'P2'],
        true,
        this.report({}),
        { type: 'setBelief', surfaceId: surface.id, patch: { policy: 'assume' } },
        0,
        '',
      )
    if (policy.policy === 'confirm' && policy.retries > 0)
      this.ways.push({
        words: `${surface.name}: do not say it again`,
        carries: '',
        helps: ['P2'],
        add: { type: 'setBelief', surfaceId: surface.id, patch: { retries: 0 } },
        remove: null,
        cost: { weight: 2, words: 'a command that is lost has to be given again by hand' },
      })
    if (policy.onLoss === 'keep')
      this.ways.push({
        words: `${surface.name}: mark what it shows as stale when the link is lost`,
        carries: '',
        helps: ['P1', 'P2'],
        add: { type: 'setBelief', surfaceId: surface.id, patch: { onLoss: 'stale' } },
        remove: null,
        cost: { weight: 1, words: 'keys are marked until something is heard again' },
      })
  }

  /** A copy of a command is known by its number. */
  private numbers(): void {
    const { design, surface, link } = this
    const number: Edit = {
      type: 'setLink',
      linkId: link.id,
      patch: {
        numbered: {
          windowMs: Math.max(
            WINDOW_MS,
            2 * surface.belief.timeoutMs * (surface.belief.retries + 1),
          ),
        },
      },
    }
    const room = hasRoomBehind(link)
    this.way(
      `${surface.name}: number each command${room ? '' : ', in lines'}`,
      `the number with each command of ${surface.name}`,
      ['P2'],
      link.numbered !== null,
      room
        ? number
        : {
            type: 'together',
            words: `${link.name} speaks in lines, and commands are numbered`,
            edits: [dialectEdit(design, link.id, lines.fresh), number],
          },
      { type: 'setLink', linkId: link.id, patch: { numbered: null } },
      room ? 3 : 7,
      `up to ${NUMBER_LENGTH} bytes a command${room ? '' : ', and lines instead of short codes'}`,
    )
  }

  /** Codes and marks. */
  private codes(): void {
    const { design, load, surface, link, message } = this
    if (clashes(design, link).some(c => clashLoads(c).includes(load.id))) {
      const codes = nextCodes(design, link, load)
      this.ways.push({
        words: `${surface.name}: codes that cannot be mistaken, ${Object.values(codes).join(' / ')}`,
        carries: '',
        helps: ['P1', 'P2'],
        add: { type: 'assignCodes', linkId: link.id, codes: { [load.id]: codes } },
        remove: null,
        cost: { weight: 1, words: 'panels and board are built anew' },
      })
    }
    if (speaksBytes(link)) {
      const mark = freeMark(link)
      this.way(
        `${surface.name}: say when it starts anew`,
        `the mark of a start of ${surface.name}`,
        ['P7'],
        link.restartMark !== '',
        { type: 'setLink', linkId: link.id, patch: { restartMark: mark } },
        { type: 'setLink', linkId: link.id, patch: { restartMark: '' } },
        2,
        `${mark.length} bytes a start; the first press after it is adopted`,
      )
    }
    if ((message.codes as Record<string, string | undefined>).toggle)
      this.ways.push({
        words: `${surface.name}: say on or off instead of toggling`,
        carries: '',
        helps: ['P1', 'P2'],
        add: { type: 'renameCode', linkId: link.id, loadId: load.id, which: 'toggle', code: '' },
        remove: null,
        cost: { weight: 1, words: 'no more bytes; the panel has to know what is so' },
      })
  }

  /** What stands on the surface. */
  private keys(): void {
    const { load, surface } = this
    if (surface.kind === 'panel') {
      const key = surface.keys.find(k => k.loadId === load.id)
      if (key?.form === 'stepper')
        this.ways.push({
          words: `${surface.name}: a key for each value`,
          carries: '',
          helps: ['P7'],
          add: { type: 'setKeyForm', surfaceId: surface.id, keyId: key.id, form: 'each' },
          remove: null,
          cost: { weight: 3, words: 'more keys on the panel' },
        })
      if (key?.form === 'state')
        this.ways.push({
          words: `${surface.name}: a pair of keys, on and off`,
          carries: '',
          helps: ['P2'],
          add: { type: 'setKeyForm', surfaceId: surface.id, keyId: key.id, form: 'pair' },
          remove: null,
          cost: { weight: 3, words: 'one more key on the panel' },
        })
    } else if (!surface.shows)
      this.ways.push({
        words: `${surface.name}: give it a lamp`,
        carries: '',
        helps: ['P2'],
        add: { type: 'setPeer', surfaceId: surface.id, patch: { shows: true } },
        remove: null,
        cost: { weight: 4, words: 'a lamp and a pin of the box' },
      })
  }

  /** A number that the board hands out, good shorter than whoever presses waits. */
  private handsOut(): void {
    const { design, surface, link } = this
    const { policy, timeoutMs } = surface.belief
    const validS = Math.floor((timeoutMs - 2 * worstWayMs(link)) / 1000)
    if (isAnswered(link.auth) || policy !== 'confirm' || validS < 1) return
    const auth = answeredAuth(validS)
    const proved = { ...link, auth } as Link
    this.ways.push({
      words: `${surface.name}: sign a number that the board hands out, good for ${auth.validS} s`,
      carries: '',
      helps: ['P8'],
      add: authEdit(design, link, auth),
      remove: null,
      cost: {
        weight: 6,
        words: `each command is said twice and takes three ways, up to ${commandMs(proved)} ms; up to ${signatureBytes(proved)} bytes more, and a key to keep. Nobody can keep a command back longer than whoever pressed waits`,
      },
    })
  }

  /** Signatures, and whose network it is. */
  private guards(): void {
    const { design, surface, link } = this
    this.way(
      `${surface.name}: sign each command`,
      `the signature of each command of ${surface.name}`,
      ['P8'],
      link.auth.kind === 'counter',
      authEdit(design, link, SIGNED),
      { type: 'setLink', linkId: link.id, patch: { auth: { kind: 'none' } } },
      5,
      `up to ${signatureBytes({ ...link, auth: SIGNED } as Link)} bytes a command, and a key to keep; one who also jams can still keep a command back and send it later`,
    )
    this.handsOut()
    if (onNetwork(link) && link.network === 'router')
      this.ways.push({
        words: `${surface.name}: the board's own network`,
        carries: '',
        helps: ['P9'],
        add: { type: 'setLink', linkId: link.id, patch: { network: 'own' } },
        remove: null,
        cost: { weight: 4, words: 'phones join the board, and have no internet meanwhile' },
      })
  }
}

function handWays(design: Design, load: Load): Way[] {
  return handSurfaces(design).flatMap(surface =>
    surface.controls.flatMap((c): Way[] => {
      if (!actsOn(design, c, load.id).length || c.kind !== 'latching') return []
      const ways: Way[] = []
      if (isHeld(load.output)) {
        return [
          {
            words: `${surface.name}: a button instead of the switch`,
            carries: '',
            helps: ['P6'],
            remove: null,
            cost: { weight: 4, words: 'a button instead of a switch' },
            add: {
              type: 'together',
              words: `${load.name}: a button on ${surface.name} instead of the switch`,
              edits: [
                { type: 'removeControl', controlId: c.id },
                { type: 'addControl', surfaceId: surface.id, loadId: load.id, kind: 'push' },
              ],
            },
          },
        ]
      }
      if (c.acts === 'position') {
        ways.push({
          words: `${surface.name}: any movement toggles`,
          carries: '',
          helps: ['P3', 'P4'],
          add: { type: 'setControl', controlId: c.id, patch: { acts: 'movement' } },
          remove: null,
          cost: { weight: 1, words: 'the lever no longer tells by its position' },
        })
        if (c.atStart === 'follow')
          ways.push({
            words: `${surface.name}: a start leaves the load to its policy`,
            carries: '',
            helps: ['P4'],
            add: { type: 'setControl', controlId: c.id, patch: { atStart: 'stay' } },
            remove: null,
            cost: { weight: 1, words: 'after a power cut the lever may stand otherwise' },
          })
      } else
        ways.push({
          words: '',
          carries: `any movement of the switch on ${surface.name} toggles`,
          helps: ['P3'],
          add: null,
          remove: { type: 'setControl', controlId: c.id, patch: { acts: 'position' } },
          cost: { weight: 0, words: '' },
        })
      return ways
    }),
  )
}

function loadWays(design: Design, load: Load): Way[] {
  const { output } = load
  const ways: Way[] = []
  const limits = limitsOf(output)
  if (limits?.tooSoon === 'refuse')
    ways.push({
      words: 'Do what comes too soon as soon as it may',
      carries: '',
      helps: ['P1', 'P2', 'P3'],
      add: {
        type: 'setOutput',
        loadId: load.id,
        patch: { limits: { ...limits, tooSoon: 'wait' } },
      },
      remove: null,
      cost: {
        weight: 1,
        words: `it may come up to ${Math.max(limits.minOnMs, limits.minOffMs) / 1000} s later`,
      },
    })
  if (isOpposed(output)) {
    const dead = (deadTimeMs: number): Edit => ({
      type: 'setOutput',
      loadId: load.id,
      patch: { deadTimeMs },
    })
    ways.push({
      words: `Let both directions rest for ${DEAD_TIME_MS} ms`,
      carries: `the dead time of ${output.deadTimeMs} ms`,
      helps: ['P5'],
      add: output.deadTimeMs ? null : dead(DEAD_TIME_MS),
      remove: output.deadTimeMs ? dead(0) : null,
      cost: { weight: 1, words: `a reversal takes ${DEAD_TIME_MS} ms longer` },
    })
  }
  for (const need of needs(design).filter(
    n => n.loadId === load.id && n.line !== null && !n.fixed,
  )) {
    const best = bestPins(design, new Set([need.id])).assigned.find(a => a.needId === need.id)
    if (best && best.chip !== need.chip)
      ways.push({
        words: `Move it to ${pinLabel(design, best.chip)}`,
        carries: '',
        helps: ['P4', 'P5'],
        add: { type: 'setPins', pins: { [need.id]: best.chip } },
        remove: null,
        cost: { weight: 3, words: 'a wire moves to another pin' },
      })
  }
  const [wall] = handSurfaces(design)
  if (!handSurfaces(design).some(s => s.controls.some(c => actsOn(design, c, load.id).length))) {
    const add: Edit = wall
      ? { type: 'addControl', surfaceId: wall.id, loadId: load.id, kind: 'push' }
      : {
          type: 'together',
          words: `${load.name}: a button on the wall`,
          edits: [
            { type: 'addHandSurface', name: 'Wall' },
            { type: 'addControl', surfaceId: 'wall', loadId: load.id, kind: 'push' },
          ],
        }
    ways.push({
      words: `A button for it${wall ? ` on ${wall.name}` : ' on the wall'}`,
      carries: '',
      helps: ['P9'],
      add,
      remove: null,
      cost: { weight: 5, words: 'a button, two wires and a pin' },
    })
  }
  return ways
}

/** A visible character that starts none of the codes of a link. */
function freeMark(link: ByteLink): string {
  const used = new Set([
    link.reportMark,
    link.askCode[0],
    link.helloCode[0],
    link.errorText[0],
    ...(link.messages as Message[]).flatMap(m => Object.values(m.codes).map(c => c[0])),
  ])
  return speaksWords(link)
    ? 'started'
    : (['^', '=', '~', '%', '&', '!'].find(c => !used.has(c)) ?? '^')
}

const MOST_TOGETHER = 3
const MOST_REPAIRS = 3

export interface RepairSearch {
  design: Design
  loadId: string
  promise: PromiseId
  /** null: of the load itself */ surfaceId: string | null
  bounds: Bounds
}

/**
 * The cheapest sets of ways, of at most three, that make a promise hold, each tried by proof. No
 * set holds another one; nothing that held before is broken by it. Yields after each try, so that
 * it can be stopped.
 */
export function* repairs({
  design,
  loadId,
  promise,
  surfaceId,
  bounds,
}: RepairSearch): Generator<number, Repair[]> {
  const found: { ways: Way[]; repair: Repair }[] = []
  const searched = new Searched()
  const part = partOfLoad(design, loadId)
  const surface = surfaceId === null ? undefined : surfaceOf(part, surfaceId)
  const remote = surface && surface.kind !== 'hand' ? surface : undefined
  const pool = remote
    ? waysOf(part, loadId, remote)
    : [
        ...waysOf(part, loadId),
        ...(promise === 'P9'
          ? part.surfaces.flatMap(s => (s.kind === 'hand' ? [] : waysOf(part, loadId, s)))
          : []),
      ]
  const ways = pool.filter(w => w.add && w.helps.includes(promise))
  const option = remote ? { searched, only: remote.id } : { searched }
  // What no way mends needs no trying.
  if (
    promise === 'P8'
    && proveAll(design, loadId, bounds, { promises: ['P8'], ...option }).every(isKept)
  )
    return []
  const others = PROMISE_IDS.filter(p => p !== promise)
  const kept = proveAll(design, loadId, bounds, { promises: others, ...option })
    .filter(v => v.result !== 'broken')
    .map(v => v.promise)
  let tries = 0
  for (const set of subsets(ways)) {
    if (found.length >= MOST_REPAIRS) break
    if (found.some(f => f.ways.every(w => set.includes(w)))) continue
    const edit = joined(set)
    const applied = applyEdit(design, edit)
    if (!applied.ok) continue
    yield ++tries
    const [whole] = proveAll(applied.design, loadId, bounds, { promises: [promise], ...option })
    if (!whole || !isKept(whole)) continue
    // A repair that breaks something else is none.
    if (
      proveAll(applied.design, loadId, bounds, { promises: kept, ...option }).some(
        v => v.result === 'broken',
      )
    )
      continue
    found.push({
      ways: set,
      repair: {
        fixes: set.map(w => ({ words: w.words, edit: w.add as Edit })),
        edit,
        words: set.map(w => w.words).join('; '),
        situations: whole.situations,
        cost: {
          weight: set.reduce((sum, w) => sum + w.cost.weight, 0),
          words: set.map(w => w.cost.words).join('; '),
        },
      },
    })
  }
  return found.map(f => f.repair)
}

/**
 * Nothing that was examined breaks it. Of P8: nobody who only listens does; against one who also
 * jams, and sends later what never arrived, only a number that the board hands out helps, and only
 * where whoever pressed waits longer than it is good: a repair is not held to it.
 */
function isKept({ result, promise, surfaces }: Verdict): boolean {
  return (
    result === 'holds'
    || result === 'by timing'
    || result === 'in part'
    || (promise === 'P8'
      && result === 'broken'
      && surfaces.every(s => s.story === null || s.story.what === 'kept back by a stranger'))
  )
}

function joined(set: readonly Way[]): Edit {
  const edits = set.map(w => w.add as Edit)
  return edits.length === 1
    ? first(edits)
    : { type: 'together', edits, words: set.map(w => w.words).join('; ') }
}

/** By rising weight, then by what is listed first. */
function subsets(ways: readonly Way[]): Way[][] {
  const all: Way[][] = []
  const grow = (set: Way[], from: number) => {
    if (set.length) all.push(set)
    if (set.length < MOST_TOGETHER)
      for (let i = from; i < ways.length; i++) grow([...set, nth(ways, i)], i + 1)
  }
  grow([], 0)
  const weight = (set: readonly Way[]) => set.reduce((sum, w) => sum + w.cost.weight, 0)
  return all.sort((a, b) => weight(a) - weight(b) || a.length - b.length)
}

/**
 * What carries a promise that holds: each way that is there is taken away in turn, and it is seen
 * whether that breaks it.
 */
export function* carriers({
  design,
  loadId,
  promise,
  surfaceId,
  bounds,
}: RepairSearch): Generator<number, Carrier[]> {
  const part = partOfLoad(design, loadId)
  const surface = surfaceId === null ? undefined : surfaceOf(part, surfaceId)
  const remote = surface && surface.kind !== 'hand' ? surface : undefined
  const found: Carrier[] = []
  const option = { searched: new Searched(), ...(remote ? { only: remote.id } : {}) }
  const there = waysOf(part, loadId, remote).filter(w => w.remove && w.helps.includes(promise))
  let tries = 0
  // One alone; where none is missed, two of them: what one tells the other tells too.
  for (const sets of [
    there.map(w => [w]),
    there.flatMap((w, i) => there.slice(i + 1).map(other => [w, other])),
  ]) {
    if (found.length) break
    for (const set of sets) {
      const applied = applyEdit(
        design,
        set.length === 1
          ? (first(set).remove as Edit)
          : { type: 'together', edits: set.map(w => w.remove as Edit), words: '' },
      )
      if (!applied.ok) continue
      yield ++tries
      const [broken] = proveAll(applied.design, loadId, bounds, { promises: [promise], ...option })
      if (broken?.result === 'broken')
        found.push({
          words: set.map(w => w.carries).join(', or '),
          breaks: broken.surfaces.find(s => s.story)?.story?.ending ?? broken.reason,
        })
    }
  }
  return found
}

/** Run a search for repairs, or for what carries, to its end. */
export function finished<T>(search: Generator<number, T>): T {
  for (;;) {
    const step = search.next()
    if (step.done) return step.value
  }
}

/**
 * The cheapest repairs of all that is broken, one after another on the design as it is by then;
 * what cannot be repaired is left out.
 */
export function* repairAll(
  design: Design,
  broken: readonly Omit<RepairSearch, 'design'>[],
): Generator<number, { edits: Edit[]; words: string[]; costs: string[]; left: number }> {
  const edits: Edit[] = []
  const words: string[] = []
  const costs: string[] = []
  let now = design
  let left = 0
  let tries = 0
  for (const search of broken) {
    // What was done for another may have mended this one too.
    const only =
      search.surfaceId !== null && surfaceOf(now, search.surfaceId).kind !== 'hand'
        ? { only: search.surfaceId }
        : {}
    const [verdict] = proveAll(now, search.loadId, search.bounds, {
      promises: [search.promise],
      ...only,
    })
    yield ++tries
    if (!verdict || verdict.result !== 'broken') continue
    const [best] = finished(repairs({ ...search, design: now }))
    yield ++tries
    const applied = best && applyEdit(now, best.edit)
    if (!applied?.ok || !best) {
      left++
      continue
    }
    now = applied.design
    edits.push(best.edit)
    words.push(best.words)
    costs.push(best.cost.words)
  }
  return { edits, words, costs, left }
}
