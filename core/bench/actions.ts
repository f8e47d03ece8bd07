/**
 * What can be done on the bench: a row for each action. `rank`: its place among what happens in the
 * same ms. `words`: as it is told. `text`, `read`: its line in a script and back. `perform`: what a
 * bench does for it. A new action is a row here and its shape in `script.ts`.
 */
import { wiredSurfaces, loadOf, maybeFarSurfaceOn } from '../design/find'
import { wholeOf } from '../design/part'
import { readingWords } from '../design/items'
import type { Control, Design, Gesture } from '../design/schema'
import { readingText, type Raw } from '../controller/readings'
import { EVENT_ORDER, type Level } from '../controller/state'
import { commandWords } from '../messages/clashes'
import { gestureWords } from './fingers'
import type { Action } from './script'
import { isReceiver } from '../design/sensors/traits'
import { type Target, targetWords } from '../design/targets'

/** Panels and people come after the board. */
export const RANK = { ...EVENT_ORDER, panel: 900 } as const

/** What a bench can do: all times are now. Ids that are not there throw `RangeError`. */
export interface Doer {
  press: (controlId: string, gesture: Gesture) => void
  lever: (controlId: string, level: Level) => void
  key: (surfaceId: string, loadId: string, want: string) => void
  slide: (surfaceId: string, loadId: string, want: string) => void
  scene: (surfaceId: string, sceneId: string) => void
  sense: (sensorId: string, raw: Raw) => void
  turn: (sensorId: string, detents: number) => void
  remote: (sensorId: string, key: number, repeats: number) => void
  away: (linkId: string, away: boolean) => void
  loseNext: (linkId: string) => void
  doubleNext: (linkId: string) => void
  replay: (linkId: string, back: number) => void
  stranger: (linkId: string, comes: boolean) => void
  restartBox: (surfaceId: string) => void
  front: (down: boolean) => void
  router: (down: boolean) => void
  bounce: (bounces: boolean) => void
  power: (on: boolean) => void
}

type Do = Action['do']
type ActionOf<K extends Do> = Extract<Action, { do: K }>
interface Facet<K extends Do> {
  rank?: number
  words: (action: ActionOf<K>, design: Design) => string
  text: (action: ActionOf<K>) => string
  perform: (bench: Doer, action: ActionOf<K>) => void
}

const linkName = (design: Design, id: string) =>
  maybeFarSurfaceOn(design, id)?.name ?? design.links.find(l => l.id === id)?.name ?? id
/** Of this board, or of a box that is a board. */
const sensorIn = (design: Design, id: string) => wholeOf(design).sensors.find(s => s.id === id)
const sensorName = (design: Design, id: string) => sensorIn(design, id)?.name ?? id
const frontName = (design: Design) => design.front?.name ?? 'board in front'
const controlIn = (design: Design, id: string) =>
  wiredSurfaces(design)
    .flatMap(s => s.controls)
    .find(c => c.id === id)

/** What is done with a hand control, and to which load. */
function byHand(design: Design, controlId: string, does: string): string {
  const control = controlIn(design, controlId)
  return control ? `${does} ${loadOf(design, control.loadId).name}` : does
}

/** What is done to a link. */
function onLink(words: (name: string) => string, said: string) {
  return {
    words: ({ linkId }: { linkId: string }, design: Design) => words(linkName(design, linkId)),
    text: ({ linkId }: { linkId: string }) => `link ${linkId} ${said}`,
  }
}

const ACTIONS: { [K in Do]: Facet<K> } = {
  press: {
    words: (action, design) => {
      const control = controlIn(design, action.controlId)
      const gesture = action.gesture ?? 'single'
      const does = control?.kind === 'latching' ? 'flip' : gestureWords(gesture)
      const words = byHand(design, action.controlId, does)
      if (!control || gesture === 'single') return words
      return `${words} for ${loadOf(design, gestureLoad(control, action)).name}`
    },
    text: ({ controlId, gesture = 'single' }) =>
      `press ${controlId}${gesture === 'single' ? '' : ` ${gesture}`}`,
    perform: (bench, { controlId, gesture }) => bench.press(controlId, gesture ?? 'single'),
  },
  hold: {
    words: ({ controlId }, design) => byHand(design, controlId, 'hold'),
    text: ({ controlId }) => `hold ${controlId}`,
    perform: (bench, { controlId }) => bench.lever(controlId, 0),
  },
  letGo: {
    words: ({ controlId }, design) => byHand(design, controlId, 'let go of'),
    text: ({ controlId }) => `let go ${controlId}`,
    perform: (bench, { controlId }) => bench.lever(controlId, 1),
  },
  key: {
    rank: RANK.panel,
    words: ({ loadId, want }, design) => commandWords(design, loadId, want),
    text: ({ surfaceId, loadId, want }) => `key ${surfaceId} ${loadId} ${want}`,
    perform: (bench, { surfaceId, loadId, want }) => bench.key(surfaceId, loadId, want),
  },
  slide: {
    rank: RANK.panel,
    words: ({ loadId, want }, design) => `draw ${commandWords(design, loadId, want)}`,
    text: ({ surfaceId, loadId, want }) => `slide ${surfaceId} ${loadId} ${want}`,
    perform: (bench, { surfaceId, loadId, want }) => bench.slide(surfaceId, loadId, want),
  },
  scene: {
    rank: RANK.panel,
    words: ({ sceneId }, design) => design.scenes.find(s => s.id === sceneId)?.name ?? sceneId,
    text: ({ surfaceId, sceneId }) => `scene ${surfaceId} ${sceneId}`,
    perform: (bench, { surfaceId, sceneId }) => bench.scene(surfaceId, sceneId),
  },
  sense: {
    rank: RANK.sample,
    words: ({ sensorId, raw }, design) => {
      const sensor = sensorIn(design, sensorId)
      if (!sensor) return sensorId
      return `${sensor.name} gives ${readingWords(sensor, readingText(sensor, raw))}`
    },
    text: ({ sensorId, raw }) => `sense ${sensorId} ${raw.join(' ')}`,
    perform: (bench, { sensorId, raw }) => bench.sense(sensorId, raw),
  },
  turn: {
    words: ({ sensorId, detents }, design) =>
      `turn ${sensorName(design, sensorId)} ${detents < 0 ? 'down' : 'up'} by ${Math.abs(detents)}`,
    text: ({ sensorId, detents }) => `turn ${sensorId} ${detents}`,
    perform: (bench, { sensorId, detents }) => bench.turn(sensorId, detents),
  },
  remote: {
    rank: RANK.infrared,
    words: ({ sensorId, key: nth, repeats }, design) => {
      const sensor = sensorIn(design, sensorId)
      const key = isReceiver(sensor) ? sensor.keys[nth] : undefined
      const what = key ? targetName(design, key) : `key ${nth + 1}`
      return `remote: ${what}${repeats ? ', held' : ''}`
    },
    text: ({ sensorId, key, repeats }) =>
      `remote ${sensorId} ${key + 1}${repeats ? ` repeats ${repeats}` : ''}`,
    perform: (bench, { sensorId, key, repeats }) => bench.remote(sensorId, key, repeats),
  },
  linkDown: {
    rank: RANK.linkDown,
    ...onLink(name => `${name} out of reach`, 'down'),
    perform: (bench, { linkId }) => bench.away(linkId, true),
  },
  linkUp: {
    rank: RANK.linkUp,
    ...onLink(name => `${name} back in reach`, 'up'),
    perform: (bench, { linkId }) => bench.away(linkId, false),
  },
  loseNext: {
    ...onLink(name => `next message of ${name} lost`, 'loses next'),
    perform: (bench, { linkId }) => bench.loseNext(linkId),
  },
  doubleNext: {
    ...onLink(name => `next message of ${name} comes twice`, 'doubles next'),
    perform: (bench, { linkId }) => bench.doubleNext(linkId),
  },
  replay: {
    words: ({ linkId, back }, design) =>
      `a stranger plays ${back ? 'an earlier' : 'the last'} command of ${linkName(design, linkId)} again`,
    text: ({ linkId, back }) => `link ${linkId} replays${back ? ` ${back} back` : ''}`,
    perform: (bench, { linkId, back }) => bench.replay(linkId, back ?? 0),
  },
  strangerOn: {
    rank: RANK.linkDown,
    ...onLink(name => `somebody else connects in place of ${name}`, 'is taken'),
    perform: (bench, { linkId }) => bench.stranger(linkId, true),
  },
  strangerOff: {
    rank: RANK.linkUp,
    ...onLink(name => `somebody else leaves the place of ${name}`, 'is free'),
    perform: (bench, { linkId }) => bench.stranger(linkId, false),
  },
  restartBox: {
    rank: RANK.linkDown,
    words: ({ surfaceId }, design) =>
      `${design.surfaces.find(s => s.id === surfaceId)?.name ?? surfaceId} starts anew`,
    text: ({ surfaceId }) => `box ${surfaceId} restarts`,
    perform: (bench, { surfaceId }) => bench.restartBox(surfaceId),
  },
  frontDown: {
    rank: RANK.linkDown,
    words: (_, design) => `${frontName(design)} stops`,
    text: () => 'front down',
    perform: bench => bench.front(true),
  },
  frontUp: {
    rank: RANK.linkUp,
    words: (_, design) => `${frontName(design)} runs again`,
    text: () => 'front up',
    perform: bench => bench.front(false),
  },
  routerDown: {
    rank: RANK.linkDown,
    words: () => 'router down',
    text: () => 'router down',
    perform: bench => bench.router(true),
  },
  routerUp: {
    rank: RANK.linkUp,
    words: () => 'router back',
    text: () => 'router up',
    perform: bench => bench.router(false),
  },
  contacts: {
    words: ({ bounce }) => (bounce ? 'contacts bounce' : 'contacts are clean'),
    text: ({ bounce }) => (bounce ? 'contacts bounce' : 'contacts clean'),
    perform: (bench, { bounce }) => bench.bounce(bounce),
  },
  powerOff: {
    rank: RANK.powerOff,
    words: () => 'power cut',
    text: () => 'power off',
    perform: bench => bench.power(false),
  },
  powerOn: {
    rank: RANK.powerOff,
    words: () => 'power back',
    text: () => 'power on',
    perform: bench => bench.power(true),
  },
  restart: {
    rank: RANK.powerOff,
    words: () => 'board restarts',
    text: () => 'board restarts',
    perform: bench => {
      bench.power(false)
      bench.power(true)
    },
  },
}

const facet = (action: Action) => ACTIONS[action.do] as Facet<Do>

/** "Kiln lamp on", "scene Night". */
function targetName(design: Design, target: Target): string {
  const words = targetWords(design, target)
  return 'loadId' in target ? `${loadOf(design, target.loadId).name} ${words}` : words
}

/** The load that a press is meant for; with a scene, the one that the control stands with. */
export function gestureLoad(control: Control, action: Action): string {
  const on = action.do === 'press' ? action.gesture : undefined
  const gesture = control.kind === 'push' ? control.gestures.find(g => g.on === on) : undefined
  return gesture && 'loadId' in gesture ? gesture.loadId : control.loadId
}

/** What is done, in the maker's words: "flip Kiln lamp". */
export function actionWords(design: Design, action: Action): string {
  return facet(action).words(action as ActionOf<Do>, design)
}

/** Its line in a script, behind the time: "link phone down". */
export function actionText(action: Action): string {
  return facet(action).text(action as ActionOf<Do>)
}

/** Its place among what happens in the same ms; hands come where their pins do. */
export function actionRank(action: Action): number {
  return facet(action).rank ?? RANK.pin
}

/** Does it on a bench. */
export function perform(bench: Doer, action: Action): void {
  facet(action).perform(bench, action as ActionOf<Do>)
}

/** By the words after "link ID": what is done to the link. */
const TO_LINKS: Record<string, Extract<Action, { linkId: string }>['do']> = {
  down: 'linkDown',
  up: 'linkUp',
  'loses next': 'loseNext',
  'doubles next': 'doubleNext',
  replays: 'replay',
  'is taken': 'strangerOn',
  'is free': 'strangerOff',
}
const BARE: readonly Action[] = [
  { do: 'routerDown' },
  { do: 'routerUp' },
  { do: 'powerOff' },
  { do: 'powerOn' },
  { do: 'restart' },
  { do: 'frontDown' },
  { do: 'frontUp' },
  { do: 'contacts', bounce: true },
  { do: 'contacts', bounce: false },
]

/** By the first word of a line: what it says, from the words behind; null where it says nothing. */
const READ: Record<string, (words: string[]) => unknown> = {
  press: ([controlId, gesture]) => ({ do: 'press', controlId, ...(gesture ? { gesture } : {}) }),
  hold: ([controlId]) => ({ do: 'hold', controlId }),
  let: ([, controlId = '']) => ({ do: 'letGo', controlId }),
  key: ([surfaceId, loadId = '', want = '']) => ({ do: 'key', surfaceId, loadId, want }),
  slide: ([surfaceId, loadId = '', want = '']) => ({ do: 'slide', surfaceId, loadId, want }),
  scene: ([surfaceId, sceneId = '']) => ({ do: 'scene', surfaceId, sceneId }),
  sense: ([sensorId, ...raw]) => ({ do: 'sense', sensorId, raw: raw.map(Number) }),
  turn: ([sensorId, detents = '']) => ({ do: 'turn', sensorId, detents: Number(detents) }),
  remote: ([sensorId, key = '', repeats, n]) => ({
    do: 'remote',
    sensorId,
    key: Number(key) - 1,
    repeats: repeats === 'repeats' ? Number(n) : 0,
  }),
  box: ([surfaceId, does]) => (does === 'restarts' ? { do: 'restartBox', surfaceId } : null),
  link: ([linkId, does = '', n = '', last]) => {
    if (does === 'replays' && last === 'back') return { do: 'replay', linkId, back: Number(n) }
    const what = TO_LINKS[[does, n].filter(Boolean).join(' ')]
    return what ? { do: what, linkId } : null
  },
}

/** What a line of a script says is done, not checked yet; null where it is no action. */
export function actionIn(text: string): unknown {
  const bare = BARE.find(action => actionText(action) === text)
  if (bare) return bare
  const [head = '', first = '', ...more] = text.split(/\s+/)
  return READ[head]?.([first, ...more.filter(Boolean)]) ?? null
}
