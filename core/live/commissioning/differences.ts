/**
 * Why a step went otherwise, by all that was heard and answered: the likeliest cause, and what
 * tells it from the others.
 */
import { fingerprint } from '../../design/fingerprint'
import { activeLevelOf } from '../../design/outputs/traits'
import type { Design } from '../../design/schema'
import { loadOf } from '../../design/find'
import { valueWords } from '../../design/values'
import { causesOf, type Prints } from '../causes'
import { upperFirst } from '../../units/format'
import type { LiveLink } from '../link'
import type { Answer, Heard, Result } from './results'
import type { Step } from './steps'

export interface Difference {
  design: Design
  step: Step
  heard: readonly Heard[]
  answer: Answer | null
  otherId: string | null
  links: readonly LiveLink[]
  prints: Prints
  results: ReadonlyMap<string, Result>
}

/** One or two sentences. */
export function likelyCause(of: Difference): string {
  return (
    byLook(of)
    ?? byConnection(of)
    ?? 'It was not heard in time, and nothing else tells why: try it again, and look at the traffic.'
  )
}

/** What a person saw. */
function byLook(of: Difference): string | null {
  const { step, answer, otherId, design } = of
  const loadId = step.watch?.loadId ?? step.deed?.loadId
  if (!loadId) return answer === 'no' || answer === 'opposite' ? seenOtherwise(of) : null
  const { name, output, wiring } = loadOf(design, loadId)
  switch (answer) {
    case 'another': {
      const other = design.loads.find(l => l.id === otherId)
      if (!other) return 'Another load moved: two codes or two wires are exchanged.'
      return swappedWords(of, name, other.name)
    }
    case 'opposite':
      return `${name} does the opposite: its line is inverted. The design has it on at a ${activeLevelOf(output)} pin; its driver wants the other level, or its contact is wired to the resting side.`
    case 'no': {
      const said = of.heard.some(h => h.state === 'held')
      const words = step.watch ? valueWords(output, step.watch.value) : 'it'
      if (!said) return byConnection(of)
      return `The board says ${words}, but nothing moved: look at the wire from its pin, the supply of its ${wiring.driver.kind}, its fuse and the load itself.`
    }
    default:
      return null
  }
}

function seenOtherwise({ step }: Difference): string {
  switch (step.chapter) {
    case 'boards':
      return 'What is on the board is not of this revision: write it anew from Build.'
    case 'restart':
      return 'Something moved at the start: a pin that floats until its program runs, or a power-up value that was not meant so. The wiring view tells which pins do that.'
    case 'devices':
      return 'The page on that device is older than the board, or the device is in another network: give it the page of this revision.'
    default:
      return 'It was seen otherwise.'
  }
}

/** Each asks for one and moves the other, or only one of them does. */
function swappedWords({ links, design, results, step }: Difference, a: string, b: string): string {
  const print = fingerprint(design)
  const told = links.find(l => l.hello)
  const back = [...results.values()].some(
    r =>
      r.answer === 'another'
      && r.otherId === (step.watch?.loadId ?? step.deed?.loadId)
      && r.stepId !== step.id,
  )
  const pair = back ? `${a} and ${b} are exchanged` : `${a} moves ${b}`
  if (told?.hello?.fingerprint === print)
    return `${pair}: the board has the table of this design, so it is the wires (swap the two lines at the pins or at the drivers).`
  if (told)
    return `${pair}: the board has another table (${told.hello?.fingerprint}), so it may be the codes. Write its program anew first.`
  return `${pair}: two codes or two wires. This dialect cannot tell which table the board has: write its program anew, and if it stays so, swap the two lines.`
}

/** What the connections themselves tell. */
function byConnection({ step, heard, links, design, prints }: Difference): string | null {
  const late = step.expects.filter((_, i) => heard[i]?.state === 'late')
  const concerned = late.length ? late : step.expects
  for (const { linkId } of concerned) {
    const live = links.find(l => l.link.id === linkId)
    const { name } = design.links.find(l => l.id === linkId) ?? { name: linkId }
    if (!live) return `${name} is not connected.`
    const [cause] = causesOf(live, prints, '', live.heardAt ?? Infinity)
    if (cause) return `${name}: ${cause.words}. ${upperFirst(cause.way)}.`
    if (!live.up) return `${name} is lost: power, reach or network.`
  }
  const [first] = late
  if (!first) return null
  const { name } = design.links.find(l => l.id === first.linkId) ?? { name: first.linkId }
  if (first.kind === 'says' || first.kind === 'shows')
    return saidOtherwise(first, name, links, design)
  return null
}

/** Something else was said, or nothing. */
function saidOtherwise(
  { loadId, linkId, value }: { loadId: string; linkId: string; value: string | null },
  name: string,
  links: readonly LiveLink[],
  design: Design,
): string {
  const load = design.loads.findIndex(l => l.id === loadId)
  const told = links.find(l => l.link.id === linkId)?.says[load]
  const { name: what, output } = loadOf(design, loadId)
  if (told && value !== null && told.value !== value)
    return `${name} still says ${what} ${valueWords(output, told.value)}: the command did not reach it, was refused, or is another one in its table.`
  return `${name} said nothing of ${what}: the report is not in the board's program, or was lost.`
}
