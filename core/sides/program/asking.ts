/** What a box says, as rows of the table (engine/rows.h, `AskingAt`). */
import type { BeliefPolicy, Design, Output, PeerSurface } from '../../design/schema'
import { bytesText } from '../../bytes/text'
import { payloadSaid } from '../../design/dialects/packed'
import { PLACE } from '../../design/dialects/place'
import { signingMs } from '../../surfaces/asked'
import { NUMBER } from '../../design/values'
import { isHeld } from '../../design/outputs/traits'
import { speaksRoutes, structureOn } from '../../design/links/traits'
import { bodyOf, startedCode } from '../../design/wire'
import { keepAliveMs, type SurfaceProgram } from '../../surfaces/surface'
import { askParts } from './asks'
import { longestSaid, speechOfBox } from './box'
import { mirrorOf } from './outputs'
import { agreedIn, framesOn } from './structures'
import type { TableWriter } from './writer'
import { nth } from '../../units/lists'

type Part = readonly [1 | 2 | 4, number]

/** A code with a place for a number: of the load, or of steps up (1) or down (-1). */
interface SaidNumber {
  load: number
  step: -1 | 0 | 1
  code: string
}
export interface Asking {
  speech: SurfaceProgram
  box: PeerSurface
  numbers: readonly SaidNumber[]
  /** The longest that it says, characters. */
  longest: number
  /** Its structures are framed by the engine. */
  framed: boolean
}

const POLICIES: Record<BeliefPolicy['policy'], number> = { assume: 0, confirm: 1, report: 2 }
const FLAGS = { none: 0, 'until heard': 1, once: 2 } as const

/** null where a part is of no box. */
export function askingOf(part: Design): Asking | null {
  const speech = speechOfBox(part)
  if (!speech) return null
  const coded = codesOf(speech)
  const numbers = coded.flatMap(({ load, key, code }): SaidNumber[] =>
    hasPlace({ key, code }) ? [{ load, step: STEPS[key] ?? 0, code }] : [],
  )
  return {
    speech,
    box: speech.panel as PeerSurface,
    numbers,
    framed: framesOn(speech.link, numbers.length + speech.numbers.length),
    longest: longestSaid(speech),
  }
}
const STEPS: Record<string, -1 | 1> = { up: 1, down: -1 }

/** Structures have a field for it, where the code for numbers stands for all of them. */
const hasPlace = ({ key, code }: { key: string; code: string }) =>
  key === NUMBER || code.includes(PLACE)

/** Every code that asks for something. */
function codesOf({ messages }: SurfaceProgram) {
  return messages.flatMap((m, load) =>
    Object.entries(m?.codes ?? {}).flatMap(([key, code]) => (code ? [{ load, key, code }] : [])),
  )
}

/** A load of the board that is asked: what it is there, and how often a finger is told again. */
export function askedFor(output: Output) {
  return {
    ...mirrorOf(output),
    ms: isHeld(output) ? [keepAliveMs(output)] : [],
  }
}

/** What asks for a scene; "" where it is asked for load by load. */
export function sceneText(asking: Asking, sceneId: string): string {
  const { scenes, sceneIds } = asking.speech
  return textOf(asking, scenes[sceneIds.indexOf(sceneId)]?.code ?? '')
}

/** A code as it is said; bare, where the engine frames it, with a number or a proof in it. */
function textOf({ speech: { link }, framed }: Asking, code: string): string {
  const structure = structureOn(link)
  return structure && framed && code !== ''
    ? bytesText(payloadSaid(structure, code, 'command'))
    : bodyOf(link, code, 'command')
}

/** Returns where it stands. */
export function askingRow(to: TableWriter, asking: Asking): number {
  const { speech, box, numbers } = asking
  const { link, outputs, flagged } = speech
  const { policy, retries, timeoutMs, onLoss } = box.belief
  const text = (code: string): Part => [2, to.text(textOf(asking, code))]
  const says = codesOf(speech)
    .filter(said => !hasPlace(said))
    .flatMap(({ load, key, code }): Part[] => [
      text(code),
      text(startedCode(link, code)),
      [1, load],
      ...askParts(nth(outputs, load), key),
    ])
  const places = numbers.flatMap(({ load, step, code }): Part[] => [
    [1, load],
    [1, step],
    ...aroundOf(speech, code).map((t): Part => [2, to.text(t)]),
  ])
  return to.list(
    [
      [1, POLICIES[policy]],
      [1, retries],
      [1, Number(onLoss === 'unknown')],
      [1, FLAGS[flagged ?? 'none']],
      [4, timeoutMs],
      [4, box.pollMs],
      [4, box.leastMs],
      [2, to.text(speech.ask)],
      [2, to.text(speech.started)],
      [2, to.list(says, `what is said on ${link.name}: text, load, what is asked for`)],
      [2, says.length / SAY_PARTS],
      [2, to.list(places, `what is said on ${link.name} with a number`)],
      [1, numbers.length],
      [1, speaksRoutes(link) ? FORMS[link.answers] : 0],
      [4, signingMs(link, box.belief)],
    ],
    `how ${box.name} asks`,
  )
}
/** What answers hold (engine/answers.h). */
const FORMS = { text: 0, json: 1, page: 2 } as const
/** Parts of a row: two texts, the load, what is asked for. */
const SAY_PARTS = 6

/** What stands before and behind a number; in a structure all of it, and that of a start third. */
function aroundOf({ link }: SurfaceProgram, code: string): [string, string, string] {
  const structure = structureOn(link)
  if (!structure) {
    const [before = '', after = ''] = bodyOf(link, code, 'command').split(PLACE)
    return [before, after, '']
  }
  const started = startedCode(link, code)
  return [
    agreedIn(structure, code, 'command'),
    '',
    started === '' ? '' : agreedIn(structure, started, 'command'),
  ]
}
