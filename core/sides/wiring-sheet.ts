/** What is soldered: the wiring table (CSV, RFC 4180), and the checklist of uploading. */
import { EXPANDERS } from '../boards/expanders'
import { expandersOf, lampsOf } from '../design/find'
import { pinOf } from '../boards/boards'
import { classOf } from '../boards/classes'
import { wiredLoads } from './program/box'
import { canProgram, enginesOf, programmed, programmedFront } from './program/can-program'
import { fingerprint } from '../design/fingerprint'
import { hasModule } from '../design/links/traits'
import { derivedFrom } from '../design/part'
import { boardOf, frontOf, needs, pinLabel, serialPins, type Need } from '../design/pins'
import type { Design, Front, Load, Output } from '../design/schema'
import { linesOf, restOf } from '../design/values'
import { sumsOf } from '../electrical/of-design'
import type { WiringSum } from '../electrical/wiring-sum'
import { GATE_OHMS } from '../electrical/mosfet'
import { valueOf } from '../electrical/sum'
import { showQuantity } from '../units/quantity'
import { csv } from './csv'
import { isFollower, activeLevelOf } from '../design/outputs/traits'
import { sensorWiring } from './sensors'
import { wiredControls } from '../design/wired'
import { lampOhms } from '../electrical/lamp'

export interface WiringRow {
  pin: string
  chip: number
  what: string
  direction: string
  through: string
  note: string
}

/** The wiring table: a row for each need of a pin. */
export function wiringRows(design: Design): WiringRow[] {
  const board = boardOf(design)
  const sums = sumsOf(design)
  return needs(design).map(need => {
    const load = need.line ? design.loads.find(l => l.id === need.loadId) : undefined
    const warnings = pinOf(board, need.chip)?.hazards.map(h => h.words) ?? []
    return {
      pin: need.chip < 0 ? 'none' : pinLabel(design, need.chip),
      chip: need.chip,
      what: need.what,
      direction: DIRECTIONS[need.use.as],
      through: load ? driverWords(load, sums, need) : throughWords(design, need),
      note: warnings.join('; '),
    }
  })
}

const DIRECTIONS: Record<Need['use']['as'], string> = {
  output: 'from the board',
  pwm: 'from the board',
  contact: 'to the board',
  sense: 'to the board',
  'serial-in': 'to the board',
  'serial-out': 'from the board',
  analog: 'to the board',
  'wire-in': 'to the board',
  'wire-out': 'from the board',
  bus: 'from the board',
}

function driverWords(load: Load, sums: readonly WiringSum[], need: Need): string {
  const { isolator } = load.wiring
  const words = afterIsolator(load, sums, need)
  if (!isolator) return words
  const sum = sums.find(s => s.id === `load:${load.id} isolator`)?.sum
  return `${sum ? showQuantity(valueOf(sum, 'R'), 'Ω') : 'resistor'} to the lamp of a light isolator, then ${words}`
}

function afterIsolator(load: Load, sums: readonly WiringSum[], need: Need): string {
  const { driver, load: what } = load.wiring
  const on = `on when ${activeLevelOf(load.output)}`
  const to = what?.mains ? '; mains side: closed box, by a qualified person' : ''
  switch (driver.kind) {
    case 'none':
      return 'nothing'
    case 'four-coils':
      return `input of a switch with diode, ${lineName(load, need)} to its output, common end to ${showQuantity(driver.coilVolts, 'V')}, ${on}`
    case 'bridge':
      return `${lineName(load, need)} input of the bridge; motor and bridge on a supply of their own, grounds joined`
    case 'stepper':
      return `${lineName(load, need)} input of the stepper driver; set its current to ${showQuantity(driver.phaseAmps, 'A')}`
    case 'dimmer':
      return `low-voltage input of the dimmer${to}`
    case 'opto': {
      const sum = sums.find(s => s.id === `load:${load.id} opto`)?.sum
      return `${sum ? showQuantity(valueOf(sum, 'R'), 'Ω') : 'resistor'} to the lamp of an optocoupler, its transistor across the contact of the knob that ${lineName(load, need)}`
    }
    case 'relay-module':
      return `relay module, ${on}${to}`
    case 'coil': {
      if (driver.gate)
        return `220 Ω to the gate of a MOSFET, ${showQuantity(GATE_OHMS, 'Ω')} gate to ground, coil ${showQuantity(driver.volts, 'V')} with flyback diode to its drain, ${on}${to}`
      const sum = sums.find(s => s.id === `load:${load.id} coil-driver`)?.sum
      return `${sum ? `${showQuantity(valueOf(sum, 'Rb'), 'Ω')} to the base of an NPN transistor` : 'NPN transistor'}, coil ${showQuantity(driver.volts, 'V')} with flyback diode, ${on}${to}`
    }
    case 'mosfet':
      return `220 Ω to the gate of a MOSFET, ${showQuantity(GATE_OHMS, 'Ω')} gate to ground, load to its drain, ${on}${to}`
  }
}

/** "forward", "step": what the line of a need is called. */
function lineName(load: Load, need: Need): string {
  return linesOf(load.output).find(l => l.key === need.line)?.name || 'control'
}

function throughWords(design: Design, need: Need): string {
  const sensor = design.sensors.find(s => s.id === need.sensorId)
  if (sensor) return sensorWiring(design, sensor)
  if (design.front && need.id.startsWith('front:'))
    return frontWords(design, design.front, need.use.as === 'wire-in')
  const beside = besideWords(design, need)
  if (beside) return beside
  if (need.use.as === 'sense') return 'connected line of the module'
  if (need.use.as === 'wire-in')
    return 'transmit line of the other side, its ground joined to this one'
  if (need.use.as === 'wire-out')
    return `receive line of the other side, its ground joined to this one${boardOf(design).logicVolts > 3.6 ? '; through 1 kΩ and 2 kΩ to ground where it runs on 3.3 V' : ''}`
  if (need.linkId)
    return need.use.as === 'serial-in'
      ? 'transmit line of the module'
      : `receive line of the module${boardOf(design).logicVolts > 3.6 ? ', through a divider of 1 kΩ and 2 kΩ to 3.3 V' : ''}`
  const control = wiredControls(design).find(c => c.control.id === need.controlId)?.control
  if (!control) return ''
  const pull =
    control.pullOhms === null
      ? 'pull-up in the board'
      : `${showQuantity(control.pullOhms, 'Ω')} to ${showQuantity(boardOf(design).logicVolts, 'V')}`
  return `contact to ground, ${showQuantity(control.leadMeters, 'm')} of lead, ${pull}`
}

/** Lamps and expanders; "" for anything else. */
function besideWords(design: Design, need: Need): string {
  const [kind, rest = ''] = need.id.split(':')
  if (kind === 'lamp') {
    const lamp = lampsOf(design).find(l => l.id === rest)
    const { logicVolts } = boardOf(design)
    return lamp
      ? `${showQuantity(lampOhms(logicVolts), 'Ω')}, light-emitting diode to ${lamp.activeLevel === 'high' ? 'ground' : showQuantity(logicVolts, 'V')}`
      : ''
  }
  if (kind !== 'expander') return ''
  const expander = expandersOf(design).find(e => rest.startsWith(`${e.id} `))
  if (!expander) return ''
  const pull = showQuantity(EXPANDERS[expander.kind].pullOhms, 'Ω')
  if (expander.kind === 'shift')
    return need.chip === expander.enablePin
      ? `output enable of the shift registers, ${pull} to their supply`
      : `${rest.slice(expander.id.length + 1)} input of the first shift register`
  return `${rest.slice(expander.id.length + 1)} line of the bus, address ${expander.address}, ${pull} to ${showQuantity(boardOf(design).logicVolts, 'V')}`
}

function shiftWords(shift: Front['shift'], hears: boolean): string {
  if (shift === 'shifter') return 'through a level shifter'
  return hears ? 'straight' : 'through 1 kΩ, then 2 kΩ to ground'
}

/** What stands on the wire to the board in front, seen from the controller. */
function frontWords(design: Design, front: Front, hears: boolean): string {
  const ahead = frontOf(design)
  const pins = ahead && serialPins(ahead)
  const label =
    ahead && pins ? (pinOf(ahead, hears ? pins.send : pins.receive)?.label ?? '') : 'no serial port'
  const higher = boardOf(design).logicVolts > (ahead?.logicVolts ?? 0) + 0.2
  const between = higher && front.shift !== 'none' ? shiftWords(front.shift, hears) : 'straight'
  return `${label} of ${front.name}, ${between}, ${front.baud} baud`
}

/** The wiring table as CSV, with the fingerprint below. */
export function wiringCsv(design: Design): string {
  return csv(
    ['pin', 'chip number', 'what', 'direction', 'through', 'note'],
    [
      ...wiringRows(design).map(r => [r.pin, r.chip, r.what, r.direction, r.through, r.note]),
      ['', '', 'fingerprint', '', '', fingerprint(design)],
    ],
  )
}

/** What hangs on the board itself: of a box the link that it asks over, and no load of another. */
function onBoard(design: Design): Design {
  const made = canProgram(design) ? design : (programmed(design) ?? design)
  return derivedFrom(made, { ...made, loads: [...wiredLoads(made)] })
}

/** What disturbs an upload, or would move something, each with what to do. */
export function beforeUpload(design: Design): string[] {
  const board = boardOf(design)
  const disturbing = needs(onBoard(design)).filter(
    n => n.chip >= 0 && pinOf(board, n.chip)?.hazards.some(h => h.kind === 'upload'),
  )
  return [
    MAINS_AWAY,
    ...disturbing.map(
      n => `Unplug ${n.what} from ${pinLabel(design, n.chip)}: it disturbs the upload.`,
    ),
    ...pullWire(design),
  ]
}

/**
 * The ritual of uploading for this board and this wiring, step by step; with that of the board in
 * front of it, or without.
 */
export function flashingSteps(design: Design, which: 'both' | 'alone' = 'both'): string[] {
  const board = boardOf(design)
  const all = needs(onBoard(design)).filter(n => n.chip >= 0)
  const on = (kind: string) =>
    all.flatMap(n => {
      const hazard = pinOf(board, n.chip)?.hazards.find(h => h.kind === kind)
      return hazard ? [{ n, hazard }] : []
    })
  const links = design.links.filter(hasModule)
  const ahead = which === 'both' ? frontOf(design) : undefined
  const own = programmed(design)
    ? []
    : [
        `No program is made here for ${board.name}: what follows is for one of your own, kept to the message sheet (messages.html) and the wiring table.`,
      ]
  const made = programmedFront(design) !== null
  const front =
    ahead && design.front && !made
      ? [
          `No program is made here for ${design.front.name}${own.length ? ' either' : ''}: it has to pass on what comes over the network.`,
        ]
      : []
  return [
    ...beforeUpload(design),
    ...own,
    ...front,
    ...on('boot-strap').map(
      ({ n, hazard }) =>
        `${pinLabel(design, n.chip)} (${n.what}) ${hazard.words}: see that nothing holds it otherwise.`,
    ),
    ...board.flashing,
    ...severalPrograms(design),
    ...(ahead && design.front
      ? [
          made
            ? `Then ${design.front.name}, the ${ahead.name}, with the folder whose name ends in "-front"; read at its head what has to be filled in:`
            : `Then ${design.front.name}, the ${ahead.name}:`,
          ...ahead.flashing,
          WIRE_BACK,
        ]
      : []),
    ...links.map(
      l =>
        `Plug ${l.name} in again. Its terminal at ${l.baud} baud says nothing by itself; send "${l.askCode}" and the whole state comes back.`,
    ),
    ...design.loads.map(
      l =>
        `After the start ${l.name} is ${startWords(l.output)}; if its relay clicked, write down when.`,
    ),
  ]
}

const MAINS_AWAY = 'Take mains away from everything that the relays switch.'
const WIRE_BACK = 'Plug the wire in again: transmit to receive both ways, and grounds joined.'
/** Of a board that has one in front of it. */
const pullWire = ({ controllers, front }: Design): string[] =>
  front
    ? [
        `Pull the wire between ${controllers[0]?.name ?? 'the controller'} and ${front.name}: each board is uploaded alone.`,
      ]
    : []

/** A computer that has loads of its own and asks others does each by a program of its own. */
function severalPrograms(design: Design): string[] {
  const { length } = enginesOf(design)
  return length > 1 && classOf(boardOf(design)).program === 'linux'
    ? [`It has ${length} programs, a folder each: compile and install all of them.`]
    : []
}

/** What is done with the board in front of one, by itself. */
export function frontSteps(design: Design): string[] {
  const ahead = frontOf(design)
  if (!ahead || !design.front) return []
  const own =
    programmedFront(design) === null
      ? [
          `No program is made here for ${design.front.name}: it has to pass on what comes over the network.`,
        ]
      : ['Read at the head of its folder what has to be filled in.']
  return [MAINS_AWAY, ...pullWire(design), ...own, ...ahead.flashing, WIRE_BACK]
}

/** How a load starts: "off", "as it was". */
export function startWords(output: Output): string {
  if ('powerUp' in output) return output.powerUp === 'last' ? 'as it was' : output.powerUp
  if (restOf(output) === 'stop') return 'stopped'
  return isFollower(output) ? 'where its own knob stands' : 'off'
}

/** The checklist of uploading as text, with boxes to tick. */
export function flashingText(design: Design): string {
  return [
    `Uploading to ${boardOf(design).name} - ${design.name}`,
    `Fingerprint ${fingerprint(design)}`,
    '',
    ...flashingSteps(design).map(s => `[ ] ${s}`),
    '',
  ].join('\n')
}
