/**
 * How much room an engine has for one design (`sizes.h`): what there is none of, and what the
 * design does not use, is left out by the compiler.
 */
import type { Program } from '../../controller/program'
import { isHeld, isOpposed } from '../../design/outputs/traits'
import { isReceiver } from '../../design/sensors/traits'
import { isNamed } from '../../design/links/host'
import { isSigned, speaksBytes, speaksRoutes } from '../../design/links/traits'
import { engineOutput, isTimed } from './outputs'
import { engineSensor } from './sensors'
import { MOST_WAITING } from '../../controller/box'
import { MOST_ASKED } from '../../surfaces/asked'
import { askingOf } from './asking'
import { isInFront } from './front'
import { framesOn } from './structures'

/** The kind of loads that a board in front tells of, as a bit (engine/loads.h). */
const MIRRORS = 1 << 7
/** Numbers of commands that a link remembers (core/controller/layers/hearing.ts). */
const MOST_SEEN = 32
/** Answers that may wait beside the reports of a link. */
const ANSWERS_WAITING = 8

/** Room by name, as in `Limits`; and whether an output has timers (`NOLVI_TIMED`). */
export type EngineSizes = ReturnType<typeof engineSizes>

/** What the engine of one design needs. */
export function engineSizes(program: Program) {
  const { loads, inputs, links, readings, knobs, sticks, rules, lamps, design } = program
  const asking = askingOf(design)
  const inFront = isInFront(design)
  const mirrors = inFront || asking !== null
  const outputs = loads.map(l => l.output)
  const rows = outputs.flatMap(o => engineOutput(o) ?? [])
  const timed = !mirrors && rows.some(isTimed)
  const held = mirrors ? [] : outputs.filter(isHeld)
  const most = (list: readonly number[]) => Math.max(0, ...list)
  return {
    timed,
    small: {
      loads: loads.length,
      timers: timersOf(program, timed),
      helds: held.length,
      holders: held.length ? program.holders : 0,
      inputs: inputs.length,
      knobs: knobs.length,
      sticks: sticks.length,
      links: links.length,
      sensors: design.sensors.length,
      readings: readings.length,
      rules: rules.length,
      lamps: lamps.length,
      queue: most(links.map(({ link }) => (link.queue ? link.queue + ANSWERS_WAITING : 0))),
      seen: links.some(({ link }) => link.numbered) ? MOST_SEEN : 0,
      leasts: links.some(({ link }) => link.leastMs > 0) ? loads.length : 0,
      paced: asking && asking.box.leastMs > 0 ? MOST_WAITING : 0,
      asked: asking && isSigned(asking.speech.link.auth) ? MOST_ASKED : 0,
      kinds: mirrors ? MIRRORS : rows.reduce((set, { kind }) => set | (1 << kind), 0),
    },
    wide: {
      // An end of two characters, and one that closes an object again.
      buffer: most([asking?.longest ?? 0, ...links.map(({ reader }) => reader.longest)]) + 3,
      // Who sent datagrams is known to boards with a network only.
      senders: 0,
    },
    has: {
      remotes: design.sensors.some(s => isReceiver(s) && s.keys.length > 0),
      measures: !inFront && design.sensors.some(s => engineSensor(s).measured),
      reals: !inFront && design.sensors.some(s => engineSensor(s).reals !== undefined),
      ends: program.ends.length > 0,
      // A box asks for routes, and answers none.
      http: asking === null && links.some(({ link }) => !speaksBytes(link)),
      sealed: links.some(({ link }) => link.auth.kind !== 'none'),
      tags: links.some(({ link }) => isSigned(link.auth)),
      numbers: links.some(l => l.numbers.length > 0) || (asking?.numbers.length ?? 0) > 0,
      times: links.some(link => link.timed),
      numbered: links.some(({ link }) => link.numbered !== null),
      gestures: inputs.some(({ control }) => 'gestures' in control && control.gestures.length > 0),
      together: actsTogether(program),
      codes: links.some(({ link, reader }) => speaksBytes(link) && reader.end === ''),
      frames: asking?.framed ?? links.some(({ link, numbers }) => framesOn(link, numbers.length)),
      lines: links.some(({ reader }) => reader.end !== ''),
      box: asking !== null,
      routes: asking !== null && speaksRoutes(asking.speech.link),
      named: asking !== null && isNamed(asking.speech.link),
    },
  }
}

/** Whether several loads are ever set as one thing, or a lever decides before they are driven. */
function actsTogether({ inputs, remotes, sticks, rules, knobs, ends }: Program): boolean {
  const targets = [
    ...inputs.flatMap(i => Object.values(i.targets)),
    ...[...remotes.values()].flat(),
    ...sticks.flatMap(s => Object.values(s.targets)),
  ]
  return (
    rules.length + knobs.length + ends.length > 0
    || targets.some(t => t !== undefined && 'sets' in t)
    || inputs.some(({ control }) => 'atStart' in control && control.atStart === 'follow')
  )
}

/** Slots of timers that any of its outputs uses (controller.h, `TimerSlot`). */
function timersOf({ loads }: Program, timed: boolean): number {
  if (timed) return 5
  if (loads.some(({ output }) => isOpposed(output))) return 3
  return 1
}

/** The header as the compiler reads it. `more`: what the board defines beside it. */
export function sizesHeader(
  {
    timed,
    small,
    wide,
    has,
  }: Pick<EngineSizes, 'timed' | 'small' | 'has'> & { wide: Record<string, number> },
  more = '',
): string {
  const list = (values: Readonly<Record<string, number | boolean>>) =>
    Object.entries(values)
      .map(([name, value]) => `${name} = ${value}`)
      .join(',\n      ')
  return `// Room for what this design has, and what it uses at all. Made from the design.
#ifndef NOLVI_SIZES_H
#define NOLVI_SIZES_H

#include <stdint.h>

#define NOLVI_TIMED ${Number(timed)}
${more && `${more}\n`}
namespace nolvi {

struct Limits {
  static const uint8_t ${list(small)};
  static const uint16_t ${list(wide)};
  static const bool ${list(has)};
};

}  // namespace nolvi

#endif
`
}
