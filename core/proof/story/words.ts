/** What happens in a story, in the maker's words. */
import type { Gesture, Load, Output } from '../../design/schema'
import { outputTimers } from '../../controller/outputs/rows'
import { fullOf, restOf, valueWords } from '../../design/values'
import { shownWire } from '../../design/wire'
import type { Find } from '../explore'
import type { EventOf, SystemEvent } from '../happenings'
import type { Cast } from './cast'
import type { Flight } from './flight'
import { targetsOf, targetWords } from '../../design/targets'
import { isChoice } from '../../design/outputs/traits'
import { upperFirst } from '../../units/format'

/** What a surface shows, in words: "on, marked stale". */
export function shownWords(output: Output, shown: string): string {
  if (shown === 'unknown') return 'nothing certain'
  if (shown === 'waiting') return shown
  return shown.startsWith('stale-')
    ? `${valueWords(output, shown.slice(6))}, marked stale`
    : valueWords(output, shown)
}

/** What the power-up policy of an output promises. */
export function policyWords(output: Output): string {
  const policy = 'powerUp' in output ? output.powerUp : 'off'
  return policy === 'last'
    ? 'it should be as it was saved'
    : `it should be ${valueWords(output, policy === 'on' ? fullOf(output) : restOf(output))}`
}

/** How a key is called: "key", "On", "Reverse", "more". */
function keyWords(want: string, output: Output | undefined): string {
  const words: Record<string, string> = { flip: 'key', up: 'more', down: 'less' }
  const said = isChoice(output) ? valueWords(output, want) : want
  return words[want] ?? upperFirst(said)
}

function timerWords({ name, output }: Load, slot: number): string {
  return outputTimers(output, slot + 1)[slot]?.words(name) ?? ''
}

const PRESSES: Record<Gesture, string> = {
  single: 'presses',
  double: 'presses twice',
  triple: 'presses three times',
  hold: 'holds down',
}

/** Where a story is: who is in it, and what is on its way. */
interface Now {
  cast: Cast
  flight: Flight
  s: Int32Array
}
type Kind = SystemEvent['kind']
type Place = EventOf<'deliverUp'>

const nameOf = ({ cast }: Now) => cast.panel?.name ?? ''
const loadName = ({ cast }: Now, i: number) => cast.loadAt(i)?.name ?? ''
const sceneName = ({ cast }: Now, i: number) => cast.scene(i)?.name ?? ''
const otherName = ({ cast }: Now, link: number) => cast.speaker(link)?.name ?? 'another panel'
/** "the button of Kiln lamp", "the button of Kiln lamp (scene Night)". */
const ofInput = ({ cast }: Now, input: number) => {
  const control = cast.control(input)
  const { gesture } = cast.gesture(input)
  const name = cast.design.loads.find(l => l.id === control.loadId)?.name ?? ''
  const target = targetsOf(control).find(t => t.on === gesture)?.target
  return target && 'sceneId' in target ? `${name} (${targetWords(cast.design, target)})` : name
}

function said({ cast, s }: Now, dir: 'up' | 'down', { place }: Place): string {
  const { system, link } = cast
  const text = system.messages.texts[system.queueOf(s, dir)[place] ?? 0]?.text ?? ''
  const on = link ?? cast.linkAt(0)
  return on ? shownWire(on, text) : text
}

function arrives(now: Now, dir: 'up' | 'down', event: Place): string {
  const { cast, flight, s } = now
  const where = dir === 'up' ? 'the board' : nameOf(now)
  const text = said(now, dir, event)
  if (cast.system.messages.isEcho(cast.system.queueOf(s, dir)[event.place] ?? 0))
    return `"${text}" comes back to ${where}`
  return `"${text}" arrives at ${where}${flight.overtakes(event, s) ? ', before what was sent earlier' : ''}`
}

const key = (event: { load: number; want: string }, now: Now) =>
  `${nameOf(now)}: ${keyWords(event.want, now.cast.loadAt(event.load)?.output)} of ${loadName(now, event.load)}`

const WAY_WORDS = { right: 'to the right', left: 'to the left', up: 'up', down: 'down' } as const

const WORDS: { [K in Kind]: (event: EventOf<K>, now: Now) => string } = {
  deliverUp: (event, now) => arrives(now, 'up', event),
  deliverDown: (event, now) => arrives(now, 'down', event),
  doubleUp: (event, now) =>
    `"${said(now, 'up', event)}" arrives at the board, and will come once more`,
  doubleDown: (event, now) =>
    `"${said(now, 'down', event)}" arrives at ${nameOf(now)}, and will come once more`,
  loseUp: (event, now) => `"${said(now, 'up', event)}" is lost on its way to the board`,
  loseDown: (event, now) => `"${said(now, 'down', event)}" is lost on its way to ${nameOf(now)}`,
  press: ({ input }, now) =>
    now.cast.control(input).kind === 'push'
      ? `Somebody ${PRESSES[now.cast.gesture(input).gesture]} the button of ${ofInput(now, input)}`
      : `Somebody flips the switch of ${ofInput(now, input)}`,
  key,
  watchedKey: key,
  scene: ({ scene }, now) => `${nameOf(now)}: ${sceneName(now, scene)}`,
  other: ({ link, load, want }, now) =>
    `${otherName(now, link)}: ${want === 'toggle' ? 'key' : keyWords(want, now.cast.loadAt(load)?.output)} of ${loadName(now, load)}`,
  otherScene: ({ link, scene }, now) => `${otherName(now, link)}: ${sceneName(now, scene)}`,
  remote: (event, { cast }) =>
    `Somebody presses key ${event.key + 1} of ${cast.system.design.sensors[event.sensor]?.name ?? 'the remote'}`,
  turn: ({ knob, detents }, { cast }) =>
    `Somebody turns ${cast.system.controller.program.knobs[knob]?.knob.name ?? 'the knob'} ${detents > 0 ? 'up' : 'down'} by a click`,
  push: ({ sensor, way }, { cast }) => {
    const stick = cast.system.design.sensors[sensor]?.name ?? 'the stick'
    return way === 'rest' ? `${stick} is let go` : `Somebody pushes ${stick} ${WAY_WORDS[way]}`
  },
  rule: ({ rule }, { cast }) => `"${cast.system.design.rules[rule]?.name ?? ''}" acts`,
  end: ({ load, direction, closed }, now) =>
    `the ${direction} end contact of ${loadName(now, load)} ${closed ? 'closes' : 'opens'}`,
  drop: (_, now) => `${nameOf(now)} goes out of reach`,
  return: (_, now) => `${nameOf(now)} connects again`,
  notice: (_, now) => `${nameOf(now)} notices that the link is gone`,
  timeout: (_, now) =>
    `${nameOf(now)} has waited ${now.cast.panel?.belief.timeoutMs ?? 0} ms for an answer`,
  poll: (_, now) => `${nameOf(now)} asks for the state`,
  tell: () => 'the board tells the whole state',
  sent: () => 'what the board said has left',
  least: ({ load }, now) => `the board may tell ${loadName(now, load)} again`,
  repeat: (_, now) => `${nameOf(now)} keeps the hold alive`,
  restart: (_, now) => `${nameOf(now)} starts anew and knows nothing`,
  save: () => 'the board saves the value',
  timer: ({ load, slot }, { cast }) => timerWords(cast.loadAt(load) as Load, slot),
  hold: ({ input }, now) => `Somebody presses the button of ${ofInput(now, input)} and stays on it`,
  letGo: ({ input }, now) => `The button of ${ofInput(now, input)} is let go`,
  cut: () => 'the power is cut',
  powerOn: () => 'the power returns and the board starts',
}

/** What happens, as a clause: "the power is cut". */
export function eventWords(event: SystemEvent, now: Now): string {
  return (WORDS[event.kind] as (event: SystemEvent, now: Now) => string)(event, now)
}

/** How it is when a story ends. `values`: those of the load, one after another. */
interface End {
  surface: string
  load: Load
  truth: string
  shown: string
  showsIt: boolean
  values: readonly string[]
}

/** How a story ends, as a sentence. */
export function endingWords(
  what: Find['what'],
  { surface, load: { name, output }, truth, shown, showsIt, values }: End,
): string {
  const is = valueWords(output, truth)
  const shows = shownWords(output, shown)
  const [before = '', after = ''] = values.slice(-2).map(v => valueWords(output, v))
  switch (what) {
    case 'wrong':
    case 'unsure':
      return `${surface} shows ${shows}, ${name} is ${is}`
    case 'vanished':
      return showsIt
        ? `The last press on ${surface} never arrived: it shows ${shows}, ${name} is ${is}`
        : `The press on ${surface} never arrived, and nobody is told`
    case 'twice':
      return `One press on ${surface} acted twice on ${name}`
    case 'dead':
      return `Nothing came of it: ${name} stays ${is}`
    case 'clashed':
      return `${name} goes from one direction to the other without a rest`
    case 'astray':
      return `After the power returned ${name} is ${is}; ${policyWords(output)}`
    case 'stuck':
      return `${name} is on, and nothing ends it`
    case 'moved':
      return `${surface} started anew, and ${name} went ${after}; nobody asked for it`
    case 'jumped':
      return `One step on ${surface}, and ${name} jumps from ${before} to ${after}`
    case 'restless':
      return `It never comes to rest: ${name} is ${is}, and something is always still to come`
  }
}
