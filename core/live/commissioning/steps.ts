/**
 * What is gone through before a house is given to those who live in it: made from the design, in
 * the order that a careful person takes. What can be heard ticks itself; the rest asks.
 */
import { gestureWords } from '../../bench/fingers'
import { handSurfaces, panels } from '../../design/find'
import { hasReading } from '../../design/items'
import { mediumOf } from '../../design/links/media'
import { hasModule, speaksRoutes, throughRouter } from '../../design/links/traits'
import { isHeld, isOpposed, isPulse, isSwitched } from '../../design/outputs/traits'
import type { Control, Design, HandSurface, Link, Load, Message, Output } from '../../design/schema'
import { asked, fullOf, restOf, valuesOf, valueWords } from '../../design/values'
import { codeOf } from '../../messages/setpoints'
import { helloCode } from '../../messages/table'
import { seconds, upperFirst } from '../../units/format'

export const CHAPTERS = [
  'boards',
  'links',
  'loads',
  'hands',
  'timers',
  'readings',
  'devices',
  'restart',
  'failures',
] as const
export type Chapter = (typeof CHAPTERS)[number]
export const CHAPTER_WORDS: Record<Chapter, string> = {
  boards: 'What is on the boards',
  links: 'Links',
  loads: 'Each load over each link',
  hands: 'Buttons and switches',
  timers: 'What ends by itself',
  readings: 'Readings',
  devices: 'Panels on their own devices',
  restart: 'Power away and back',
  failures: 'What may fail',
}

/**
 * Something that can be heard. `value`: null = whatever it becomes, as long as it changes.
 * `withinMs`: counted from the deed, or from the first sign of what a person does.
 */
export type Expected =
  | { kind: 'up' | 'down' | 'print' | 'started'; linkId: string; withinMs: number }
  | { kind: 'says'; linkId: string; loadId: string; value: string | null; withinMs: number }
  | {
      kind: 'shows'
      surfaceId: string
      linkId: string
      loadId: string
      value: string | null
      withinMs: number
    }
  | { kind: 'reading'; linkId: string; sensorId: string; withinMs: number }

/** What Nolvi does itself, where the link is connected; a person does it where it is not. */
export interface Deed {
  linkId: string
  loadId: string
  want: string
}

export interface Step {
  /** Stays the same from one revision to the next, as long as its things are there. */
  id: string
  chapter: Chapter
  /** What it is about: "Booth extractor, over Apron phone link". */
  about: string
  /** What a person does; "" where Nolvi does it and nobody is needed. */
  does: string
  /** The same where Nolvi does it and a person looks. */
  looks: string
  deed: Deed | null
  /** The load that is to move; null = none, or it was looked at before. */
  watch: { loadId: string; value: string } | null
  /** What is asked of a person; "" = nothing. */
  asks: string
  expects: Expected[]
  caution: string
}

/** Longest that anything is waited for, ms; what takes longer is asked. */
const LONGEST_MS = 600_000
const PERSON_MS = 120_000

const DANGERS: Record<string, string> = {
  heat: 'it becomes hot',
  gas: 'it opens gas',
  motion: 'it moves: hands and clothes away',
  lock: 'it locks: keep the way out open',
  water: 'it lets water in',
}

/** All steps of a design, in their order. */
export function stepsOf(design: Design): Step[] {
  return [
    ...boardSteps(design),
    ...linkSteps(design),
    ...loadSteps(design),
    ...handSteps(design),
    ...timerSteps(design),
    ...readingSteps(design),
    ...deviceSteps(design),
    ...restartSteps(design),
    ...failureSteps(design),
  ]
}

function step(part: Pick<Step, 'id' | 'chapter' | 'about'> & Partial<Step>): Step {
  return {
    does: '',
    looks: '',
    deed: null,
    watch: null,
    asks: '',
    expects: [],
    caution: '',
    ...part,
  }
}

/** How long a message takes at most, and somebody who polls; ms. */
function soon({ timing, everyMs }: Link, pollMs = 0): number {
  return 4 * timing.p99Ms + 500 + Math.max(pollMs, everyMs)
}

function boardSteps(design: Design): Step[] {
  return design.controllers.map(controller => {
    const links = design.links.filter(l => l.controllerId === controller.id && helloCode(l) !== '')
    const expects = links.map((l): Expected => ({
      kind: 'print',
      linkId: l.id,
      withinMs: soon(l) + 2000,
    }))
    return step({
      id: `board ${controller.id}`,
      chapter: 'boards',
      about: controller.name,
      does: 'Its program is written from Build, and it has power.',
      asks: expects.length
        ? ''
        : `No link of ${controller.name} can ask which table it has: was it written from this revision?`,
      expects,
    })
  })
}

function linkSteps(design: Design): Step[] {
  return design.links.map(link =>
    step({
      id: `link ${link.id}`,
      chapter: 'links',
      about: link.name,
      does: linkWords(link),
      expects: [{ kind: 'up', linkId: link.id, withinMs: PERSON_MS }],
    }),
  )
}

function linkWords(link: Link): string {
  if (hasModule(link)) return 'Pair the module with this computer, and connect its port.'
  if ('baud' in link) return 'Plug its adapter into this computer, and connect its port.'
  if (speaksRoutes(link))
    return `Board and computer are in one network; ${link.address} is connected.`
  return 'Connect it.'
}

function caution({ wiring }: Load): string {
  const dangers = wiring.dangers.map(d => DANGERS[d]).filter(Boolean)
  return dangers.length ? `Stand clear: ${dangers.join('; ')}.` : ''
}

/** What a load is asked for in turn: its full value and back; both ways of what goes two ways. */
function tried({ output }: Load): { id: string; value: string }[] {
  if (isPulse(output)) return [{ id: fullOf(output), value: fullOf(output) }]
  const [rest = '', ...ways] = valuesOf(output)
  if (isOpposed(output))
    return ways.flatMap(way => [
      { id: way, value: way },
      { id: `${rest} after ${way}`, value: rest },
    ])
  return [fullOf(output), restOf(output)].map(value => ({ id: value, value }))
}

function messageOn(link: Link, loadId: string): Message | undefined {
  return (link.messages as Message[]).find(m => m.loadId === loadId)
}

/** What links and their panels should tell of a load. `by`: the link over which it was asked. */
function told(design: Design, load: Load, value: string | null, by: string | null): Expected[] {
  return design.links.flatMap(link => {
    const message = messageOn(link, load.id)
    if (!message) return []
    const says = message.change || (message.ack && link.id === by) || link.everyMs > 0
    const polls = panels(design).filter(p => p.linkId === link.id && p.pollMs > 0)
    const pollMs = Math.min(...polls.map(p => p.pollMs))
    const of = { loadId: load.id, value, linkId: link.id }
    const heard: Expected[] =
      says || polls.length ? [{ kind: 'says', ...of, withinMs: soon(link, says ? 0 : pollMs) }] : []
    const shown = panels(design)
      .filter(p => p.linkId === link.id && (says || p.pollMs > 0))
      .map((p): Expected => ({
        kind: 'shows',
        surfaceId: p.id,
        ...of,
        withinMs: soon(link, says ? 0 : p.pollMs),
      }))
    return [...heard, ...shown]
  })
}

function loadSteps(design: Design): Step[] {
  return design.loads.flatMap(load => {
    const links = design.links.filter(l => messageOn(l, load.id))
    return links.flatMap((link, nth) =>
      tried(load)
        .filter(({ value }) => codeOf(link, load.output, messageOn(link, load.id)!, value) !== '')
        .map(({ id, value }) => {
          const words = valueWords(load.output, value)
          const { name } = load
          const byHand = isHeld(load.output)
          const key = byHand ? 'Hold' : 'Press'
          return step({
            id: `load ${load.id} ${link.id} ${id}`,
            chapter: 'loads',
            about: `${name}, over ${link.name}`,
            does: `${key} ${name} ${words} on a panel of this link.`,
            looks: `Look at ${name}: it is asked for ${words}.`,
            deed: byHand ? null : { linkId: link.id, loadId: load.id, want: value },
            // Whether something moved is looked at once; what is said of it, each time.
            watch: nth === 0 ? { loadId: load.id, value } : null,
            asks: nth === 0 ? `Is ${name} ${words} now?` : '',
            expects: told(design, load, value, link.id),
            caution: caution(load),
          })
        }),
    )
  })
}

function handSteps(design: Design): Step[] {
  return handSurfaces(design).flatMap(surface =>
    surface.controls.flatMap(control => controlSteps(design, surface, control)),
  )
}

interface Aim {
  id: string
  does: string
  loadId: string
  sceneId: string | null
  asks: string
}

function controlSteps(design: Design, surface: HandSurface, control: Control): Step[] {
  const { name } = design.loads.find(l => l.id === control.loadId) ?? { name: control.id }
  const aims: Aim[] =
    control.kind === 'latching'
      ? [{ ...control, id: 'flip', does: `Flip the switch of ${name}.` }]
      : [
          { ...control, id: 'press', does: `Press the button of ${name}, once.` },
          ...control.gestures.map((g): Aim => ({
            id: g.on,
            does: `The button of ${name}: ${gestureWords(g.on)}.`,
            loadId: 'loadId' in g ? g.loadId : control.loadId,
            sceneId: 'sceneId' in g ? g.sceneId : null,
            asks: 'asks' in g ? g.asks : '',
          })),
        ]
  return aims.map(aim => aimStep(design, surface, control, aim))
}

function aimStep(design: Design, surface: HandSurface, control: Control, aim: Aim): Step {
  const scene = design.scenes.find(s => s.id === aim.sceneId)
  const targets = scene
    ? scene.sets.map(s => ({ loadId: s.loadId, value: s.value as string | null }))
    : [{ loadId: aim.loadId, value: steady(design, aim.loadId, aim.asks) }]
  const loads = targets.flatMap(t => {
    const load = design.loads.find(l => l.id === t.loadId)
    return load ? [{ load, value: t.value }] : []
  })
  const expects = loads.flatMap(({ load, value }) => told(design, load, value, null))
  return step({
    id: `hand ${control.id} ${aim.id}`,
    chapter: 'hands',
    about: `${scene ? `Scene ${scene.name}` : (loads[0]?.load.name ?? '')}, at ${surface.name}`,
    does: aim.does,
    asks: expects.length ? '' : `Did ${loads[0]?.load.name ?? 'it'} follow?`,
    expects,
    caution: loads.map(l => caution(l.load)).find(Boolean) ?? '',
  })
}

/** The value that a control asks for whatever there is; null where it depends on that. */
function steady(design: Design, loadId: string, asks: string): string | null {
  const output = design.loads.find(l => l.id === loadId)?.output
  if (!output) return null
  const values = valuesOf(output)
  const results = new Set(values.map(v => asked(output, v, asks)))
  return results.size === 1 ? ([...results][0] ?? null) : null
}

/** After what time it ends by itself, ms; 0 = never. */
function endsAfterMs(output: Output): number {
  if (isPulse(output)) return output.lengthMs
  return isSwitched(output) ? (output.limits?.longestOnMs ?? 0) : 0
}

function timerSteps(design: Design): Step[] {
  return design.loads.flatMap(load => {
    const { output, name } = load
    const lengthMs = endsAfterMs(output)
    const link = design.links.find(l => messageOn(l, load.id))
    if (!lengthMs || !link) return []
    const isLong = lengthMs > LONGEST_MS
    const ends = told(design, load, restOf(output), null).map(e => ({
      ...e,
      withinMs: e.withinMs + lengthMs * 1.05,
    }))
    return [
      step({
        id: `timer ${load.id}`,
        chapter: 'timers',
        about: name,
        does: `${upperFirst(name)} goes on, and off by itself after ${seconds(lengthMs)}.`,
        looks: `Look at ${name}: it goes on, and off by itself after ${seconds(lengthMs)}.`,
        deed: { linkId: link.id, loadId: load.id, want: fullOf(output) },
        asks: isLong || !ends.length ? `Did ${name} end after ${seconds(lengthMs)}?` : '',
        expects: isLong ? [] : ends,
        caution: caution(load),
      }),
    ]
  })
}

function readingSteps(design: Design): Step[] {
  return design.sensors.filter(hasReading).flatMap(sensor => {
    const expects = design.links
      .filter(l => l.readings.some(r => r.sensorId === sensor.id))
      .map((l): Expected => ({
        kind: 'reading',
        linkId: l.id,
        sensorId: sensor.id,
        withinMs: PERSON_MS,
      }))
    return expects.length
      ? [
          step({
            id: `reading ${sensor.id}`,
            chapter: 'readings',
            about: sensor.name,
            does: 'Change what it measures a little: a warm hand, a cover, a push.',
            asks: `Does ${sensor.name} read what is so?`,
            expects,
          }),
        ]
      : []
  })
}

function deviceSteps(design: Design): Step[] {
  return panels(design).map(panel =>
    step({
      id: `device ${panel.id}`,
      chapter: 'devices',
      about: panel.name,
      does: `Open ${panel.name} on the device it is for, and press one key of it.`,
      asks: 'Does it connect, show what is so, and switch?',
    }),
  )
}

function restartSteps(design: Design): Step[] {
  return design.controllers.flatMap(controller => {
    const links = design.links.filter(l => l.controllerId === controller.id)
    const loads = design.loads.filter(l => l.controllerId === controller.id)
    if (!loads.length) return []
    const expects = links.flatMap((l): Expected[] => [
      ...(helloCode(l) === ''
        ? []
        : [{ kind: 'started' as const, linkId: l.id, withinMs: PERSON_MS }]),
      ...loads.flatMap(load => afterStart(load, l)),
    ])
    return [
      step({
        id: `restart ${controller.id}`,
        chapter: 'restart',
        about: controller.name,
        does: `Leave on what may stay on. Take the power from ${controller.name}, wait five seconds, and give it back.`,
        asks: 'Did nothing click or start by itself?',
        expects,
        caution: loads.map(caution).find(Boolean) ?? '',
      }),
    ]
  })
}

/** What it is after a start, where the design alone tells it; null = what it was. */
function startValue(output: Output): string | null {
  if (isSwitched(output)) return output.powerUp === 'last' ? null : output.powerUp
  return isPulse(output) || isHeld(output) || isOpposed(output) ? restOf(output) : null
}

/** What is said of a load after a start, where the design alone tells it. */
function afterStart(load: Load, link: Link): Expected[] {
  if (!messageOn(link, load.id)) return []
  const value = startValue(load.output)
  return value === null
    ? []
    : [{ kind: 'says', linkId: link.id, loadId: load.id, value, withinMs: PERSON_MS }]
}

function failureSteps(design: Design): Step[] {
  const routed = design.links.filter(throughRouter)
  const carried = panels(design).filter(p => {
    const link = design.links.find(l => l.id === p.linkId)
    return link && mediumOf(link).inPocket
  })
  const hands = handSurfaces(design).some(s => s.controls.length)
  const router = step({
    id: 'failure router',
    chapter: 'failures',
    about: 'Router off',
    does: 'Switch the router off. Try the buttons and the other panels. Switch it on again.',
    asks: `Did everything else go on${hands ? ', the buttons first of all' : ''}, and was all right again afterwards?`,
    expects: routed.flatMap((l): Expected[] => [
      { kind: 'down', linkId: l.id, withinMs: PERSON_MS },
      { kind: 'up', linkId: l.id, withinMs: PERSON_MS },
    ]),
  })
  const away = carried.map(p =>
    step({
      id: `failure away ${p.id}`,
      chapter: 'failures',
      about: `${p.name} out of reach`,
      does: `Carry ${p.name} away until it loses the board, switch something by hand, and come back.`,
      asks: `Did ${p.name} say that it was away, and show what is so when it was back?`,
    }),
  )
  return [...(routed.length ? [router] : []), ...away]
}
