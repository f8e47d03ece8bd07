/**
 * What a verdict takes for granted. The projection (project.ts) puts nothing in the place of some
 * things that a design has; each of them is told here, with why it cannot break the promise, or as
 * open where it may. An open one keeps a verdict from saying "holds" plainly.
 */
import {
  commanding,
  farSurfaces,
  handSurfaces,
  linkOf,
  loadOf,
  maybeMessage,
  scenesOn,
  showsState,
} from '../design/find'
import { hasSpeed, isDatagram, speaksBytes, speaksRoutes, worstWayMs } from '../design/links/traits'
import { partOfLoad } from '../design/part'
import { boardOf } from '../design/pins'
import type { Design, Link, Load, FarSurface } from '../design/schema'
import { echoes } from '../messages/echo'
import { readingClashes } from '../messages/readings'
import { longestText } from '../messages/sealing'
import { commands, reportText, rows } from '../messages/table'
import { spokenValues, isFine, valuesOf, valueWords } from '../design/values'
import { seconds } from '../units/format'
import { commandMs, searchesEchoes } from './project'
import type { PromiseId } from './promises'
import type { Assumption } from './verdict'
import { isFollower, isHeld, isLevel } from '../design/outputs/traits'
import { classOf } from '../boards/classes'
import { numberCode } from '../messages/setpoints'

/** Numbers of commands that a board remembers at once. */
export const REMEMBERED_NUMBERS = 32
/** A tap of a finger lasts about this long, ms; a debounce that is longer may swallow one. */
export const TAP_MS = 80
/**
 * People who saw nothing happen press again after about this long, ms. A lock-out up to it is there
 * against ghost presses.
 */
export const PATIENCE_MS = 1500

/** Of one promise of one load, the open ones first. */
export function assumptionsOf(whole: Design, loadId: string, promise: PromiseId): Assumption[] {
  const design = partOfLoad(whole, loadId)
  const load = loadOf(design, loadId)
  const surfaces =
    promise === 'P1' || promise === 'P2' || promise === 'P7' ? commanding(design, loadId) : []
  return [
    ...surfaces.flatMap(s => ofSurface(design, load, s, promise)),
    ...ofBoard(design, load, promise),
    ...ofNeighbours(whole, load, promise),
  ].toSorted((a, b) => Number(b.open) - Number(a.open))
}

/** Without the surface that it is about. */
type Said = Omit<Assumption, 'surfaceId'>

function ofSurface(
  design: Design,
  load: Load,
  surface: FarSurface,
  promise: PromiseId,
): Assumption[] {
  if (promise === 'P7') return []
  const link = linkOf(design, surface.linkId)
  const numbers = ofNumbers(design, load, link)
  const signing = [...ofSigning(surface, link), ...ofDeafness(design, load, link)]
  return [
    ...ofQueue(design, link),
    ...(numbers ? [{ id: 'set-points', ...numbers }] : []),
    ...ofLeast(link),
    ...ofEcho(design, load, link),
    ...ofRounds(design, load, link, promise),
    ...ofReading(design, load, link, promise),
    ...ofNumbering(link),
    ...signing,
    ...(signing.some(said => said.id === 'deaf') ? [] : ofBuffer(link)),
    ...ofAsking(surface, link),
  ].map(said => ({ ...said, surfaceId: surface.id }))
}

function ofQueue(design: Design, link: Link): Said[] {
  if (!link.queue) return []
  const waiting = rows(design, link).length + link.readings.length
  const places = link.queue === 1 ? 'one place' : `${link.queue} places`
  const open = waiting > link.queue
  return [
    {
      id: 'queue',
      open,
      words: open
        ? `the queue of ${link.name}: it has ${places} for reports of ${waiting} values, and gives up the oldest`
        : `reports wait in the queue of ${link.name}; it has a place for each of its ${waiting} values, so none is given up`,
    },
  ]
}

function ofLeast(link: Link): Said[] {
  if (!link.leastMs) return []
  const words = `${link.name} tells a value at most every ${seconds(link.leastMs)}; what waits is told when that is over, which the search follows`
  return [{ id: 'least', open: false, words }]
}

function ofEcho(design: Design, load: Load, link: Link): Said[] {
  if (!speaksBytes(link) || !link.echoes) return []
  const heard = echoes(design, link).filter(e => e.loadId === load.id || e.loops)
  if (!heard.length) {
    const words = `${link.name} echoes; nothing that comes back means anything to its sender`
    return [{ id: 'echo', open: false, words }]
  }
  const read = heard.map(e => `"${e.sent.trim()}" comes back and is read as ${e.means}`)
  // What comes back is a part of the search of who hears it.
  const open = !searchesEchoes(design, link.id)
  return [{ id: 'echo', open, words: `the echo on ${link.name}: ${read.join(', ')}` }]
}

/** What goes round on another link moves the load for everybody. */
function ofRounds(design: Design, load: Load, link: Link, promise: PromiseId): Said[] {
  return goesRound(design, load, link.id).map(({ words, unless }) => ({
    id: 'echo',
    open: true,
    words,
    ...(unless && promise === 'P1' ? { unless } : {}),
  }))
}

function ofReading(design: Design, load: Load, link: Link, promise: PromiseId): Said[] {
  if (promise !== 'P1' || !passForReports(design, link, load.id)) return []
  const words = `readings on ${link.name} that begin as a report of ${load.name} does`
  return [{ id: 'readings', open: true, words }]
}

function ofNumbering(link: Link): Said[] {
  if (!link.numbered) return []
  const words = `the board remembers ${REMEMBERED_NUMBERS} numbers of commands for ${seconds(link.numbered.windowMs)}: no more commands than that come within it`
  return [{ id: 'numbers', open: false, words }]
}

function ofSigning(surface: FarSurface, link: Link): Said[] {
  const { auth } = link
  const kept = (id: string, words: string): Said[] => [{ id, open: false, words }]
  switch (auth.kind) {
    case 'none':
      return []
    case 'word':
    case 'pin':
      return kept('signatures', `${surface.name} knows the ${auth.kind === 'pin' ? 'PIN' : 'word'}`)
    case 'time':
      return kept(
        'clocks',
        `the clocks of the board and of ${surface.name} are right to ${seconds(auth.toleranceS * 1000)}, after a power cut too${auth.once ? '' : '; a copy of a command is taken meanwhile'}`,
      )
    case 'challenge':
      return kept(
        'signatures',
        `a command on ${link.name} is said, refused with a number, and said again signed: the search knows it as one that takes up to ${seconds(commandMs(link))}; the number is another each time`,
      )
    case 'counter': {
      const open = isDatagram(link) && auth.window < 2
      const words = open
        ? `signed datagrams of ${link.name}: one that is overtaken by ${auth.window + 1} later ones is refused`
        : `commands on ${link.name} are signed right; a copy of one is refused`
      return [{ id: 'signatures', open, words }]
    }
  }
}

/** A person presses less often than a signature takes; what a page sends by itself may not. */
function ofDeafness(design: Design, load: Load, link: Link): Said[] {
  if (link.auth.kind !== 'counter') return []
  if (!hasSpeed(link) || !classOf(boardOf(design)).oneAtATime) return []
  const longest = Math.max(...commands(design, link).map(c => longestText(link, c.code).length))
  const open = longest > BUFFER_BYTES || isHeld(load.output)
  const words = `the board is deaf for ${SIGNATURE_MS} ms while it checks a signature: its buffer of ${BUFFER_BYTES} bytes keeps ${Math.floor(BUFFER_BYTES / longest)} commands of ${longest} bytes meanwhile`
  return [{ id: 'deaf', open, words }]
}

function ofBuffer(link: Link): Said[] {
  if (!hasSpeed(link)) return []
  const words = `what arrives on ${link.name} is read before its buffer of ${BUFFER_BYTES} bytes is full`
  return [{ id: 'buffer', open: false, words }]
}

function ofAsking(surface: FarSurface, link: Link): Said[] {
  if (!surface.pollMs || link.timing.p99Ms * 3 <= surface.pollMs) return []
  const words = `an answer comes before ${surface.name} asks again: it asks every ${seconds(surface.pollMs)}, an answer takes up to ${seconds(2 * worstWayMs(link))}`
  return [{ id: 'asking', open: false, words }]
}

/**
 * Numbers between the named values are not tried one by one. A link that knows the named values
 * alone is told the nearest, which is not what is so.
 */
function ofNumbers(
  design: Design,
  load: Load,
  link: Link,
): { open: boolean; words: string } | null {
  if (!isFine(load.output)) return null
  const saysThem = (l: Link) => {
    const message = maybeMessage(l, load.id)
    return message !== undefined && numberCode(message) !== ''
  }
  const named = valuesOf(load.output).map(value => valueWords(load.output, value))
  if (saysThem(link))
    return {
      open: false,
      words: `numbers between ${named.join(', ')}: one code says them all, so what holds for these holds for those`,
    }
  const setBy = design.links.find(saysThem)
  // Over HTTP the number itself is told.
  return setBy && !speaksRoutes(link)
    ? {
        open: true,
        words: `numbers that ${setBy.name} sets: ${link.name} knows ${named.join(', ')} alone and is told the nearest`,
      }
    : null
}

/**
 * Reports that come back to the board over a link that echoes, and are read there as commands to
 * the load; but for one link. What they do once, anybody may do there at any moment; `unless`:
 * whether it goes on for ever is found with that surface of the link.
 */
function goesRound(
  design: Design,
  load: Load,
  but = '',
): { words: string; unless: string | undefined }[] {
  return design.links.flatMap(link => {
    if (link.id === but || speaksRoutes(link) || !link.echoes || !maybeMessage(link, load.id))
      return []
    const round = echoes(design, link).find(e => e.loadId === load.id && e.side === 'board')
    const unless = searchesEchoes(design, link.id)
      ? farSurfaces(design).find(s => s.linkId === link.id && showsState(s))?.id
      : undefined
    return round
      ? [
          {
            words: `the echo on ${link.name}: "${round.sent.trim()}" comes back to the board and is read as ${round.means}`,
            unless,
          },
        ]
      : []
  })
}

/**
 * A reading whose start is a report of the load, or begins one: the page may take the one for the
 * other.
 */
function passForReports(design: Design, link: Link, loadId: string): boolean {
  if (!link.readings.length) return false
  const reports = rows(design, link)
    .filter(r => r.load.id === loadId)
    .flatMap(({ load, message }) =>
      spokenValues(load.output).map(v => reportText(link, load, message, v)),
    )
  return readingClashes(link, reports).some(c => reports.includes(c.with))
}

function ofBoard(design: Design, load: Load, promise: PromiseId): Assumption[] {
  const found: Assumption[] = []
  const say = (id: string, open: boolean, words: string) =>
    found.push({ id, open, words, surfaceId: null })
  if (promise === 'P3') {
    for (const c of handSurfaces(design)
      .flatMap(s => s.controls)
      .filter(c => c.loadId === load.id)) {
      if (c.debounceMs)
        say(
          'debounce',
          c.debounceMs > TAP_MS,
          c.debounceMs > TAP_MS
            ? `a tap shorter than the ${c.debounceMs} ms of its debounce`
            : `a press lasts longer than the ${c.debounceMs} ms of its debounce`,
        )
      if (c.kind === 'push' && c.lockoutMs)
        say(
          'lock-out',
          false,
          `a press within ${c.lockoutMs} ms of the one before is taken for a ghost, as designed`,
        )
    }
  }
  if (promise === 'P6') for (const { words } of goesRound(design, load)) say('echo', true, words)
  if (isLevel(load.output) && load.output.rampMs && promise === 'P1')
    say('ramp', false, 'what is told is the level it moves to, not the one it has on the way')
  if (isFollower(load.output) && promise === 'P1')
    say(
      'clicks',
      false,
      'what is told is the position it moves to; whether the other device counted every click is not known',
    )
  if (promise === 'P4')
    say('write', false, 'a write of memory is whole or not there: two copies take turns')
  return found
}

/** What reaches the load by a scene of another board's link is passed on by nobody. */
function ofNeighbours(whole: Design, load: Load, promise: PromiseId): Assumption[] {
  if (whole.controllers.length < 2 || (promise !== 'P1' && promise !== 'P2')) return []
  return scenesFromAfar(whole, load).map(({ scene, surface }) => ({
    id: 'other-board',
    open: true,
    surfaceId: null,
    words: `"${scene}" on ${surface.name}: it is asked of another board, which does not pass it on`,
  }))
}

/** Scenes with this load that are asked for on links of other boards. */
export function scenesFromAfar(
  whole: Design,
  load: Load,
): { scene: string; surface: FarSurface; linkName: string }[] {
  return whole.scenes
    .filter(s => s.sets.some(x => x.loadId === load.id))
    .flatMap(scene =>
      farSurfaces(whole).flatMap(surface => {
        const link = linkOf(whole, surface.linkId)
        const offers = surface.kind !== 'panel' || scenesOn(surface).includes(scene.id)
        return link.controllerId !== load.controllerId
          && (link.scenes[scene.id] ?? '') !== ''
          && offers
          ? [{ scene: scene.name, surface, linkName: link.name }]
          : []
      }),
    )
}

/**
 * An HMAC-SHA-256 over a short command on an 8-bit board at 16 MHz, measured on its machine code,
 * ms; and what its port keeps meanwhile, bytes.
 */
export const SIGNATURE_MS = 82
export const BUFFER_BYTES = 64
