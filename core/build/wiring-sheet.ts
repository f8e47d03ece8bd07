/** What is soldered: wiring table, parts list (CSV, RFC 4180), and the checklist of uploading. */
import { pinOf } from '../boards/boards'
import { handSurfaces } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { boardOf, needs, pinLabel, type Need } from '../design/pins'
import type { Design, Load, Output } from '../design/schema'
import { restOf } from '../design/values'
import { sumsOf, type WiringSum } from '../electrical/of-design'
import { valueOf } from '../electrical/sum'
import { showQuantity } from '../units/quantity'
import { csv } from './csv'

export interface WiringRow { pin: string, chip: number, what: string, direction: string, through: string, note: string }

export function wiringRows(design: Design): WiringRow[] {
  const board = boardOf(design)
  const sums = sumsOf(design)
  return needs(design).map((need) => {
    const load = need.line ? design.loads.find(l => l.id === need.loadId) : undefined
    const warnings = pinOf(board, need.chip)?.hazards.map(h => h.words) ?? []
    return {
      pin: need.chip < 0 ? 'none' : pinLabel(design, need.chip), chip: need.chip, what: need.what, direction: DIRECTIONS[need.use.as],
      through: load ? driverWords(load, sums) : throughWords(design, need), note: warnings.join('; '),
    }
  })
}

const DIRECTIONS: Record<Need['use']['as'], string> = { 'output': 'from the board', 'pwm': 'from the board', 'contact': 'to the board', 'sense': 'to the board', 'serial-in': 'to the board', 'serial-out': 'from the board', 'analog': 'to the board' }

function driverWords(load: Load, sums: readonly WiringSum[]): string {
  const { driver, load: what } = load.wiring
  const on = `on when ${load.output.activeLevel}`
  const to = what?.mains ? '; mains side: closed box, by a qualified person' : ''
  switch (driver.kind) {
    case 'relay-module': return `relay module, ${on}${to}`
    case 'coil': {
      const sum = sums.find(s => s.id === `load:${load.id} coil-driver`)?.sum
      return `${sum ? `${showQuantity(valueOf(sum, 'Rb'), 'Ω')} to the base of an NPN transistor` : 'NPN transistor'}, coil ${showQuantity(driver.volts, 'V')} with flyback diode, ${on}${to}`
    }
    case 'mosfet': return `220 Ω to the gate of a MOSFET, 100 kΩ gate to ground, load to its drain, ${on}${to}`
  }
}

function throughWords(design: Design, need: Need): string {
  if (need.use.as === 'sense') return 'connected line of the module'
  if (need.linkId) return need.use.as === 'serial-in' ? 'transmit line of the module' : `receive line of the module${boardOf(design).logicVolts > 3.6 ? ', through a divider of 1 kΩ and 2 kΩ to 3.3 V' : ''}`
  const control = handSurfaces(design).flatMap(s => s.controls).find(c => c.id === need.controlId)
  if (!control) return ''
  const pull = control.pullOhms === null ? 'pull-up in the board' : `${showQuantity(control.pullOhms, 'Ω')} to ${showQuantity(boardOf(design).logicVolts, 'V')}`
  return `contact to ground, ${showQuantity(control.leadMeters, 'm')} of lead, ${pull}`
}

export interface PartRow { count: number, part: string, value: string, for: string }

export function partRows(design: Design): PartRow[] {
  const sums = new Map(sumsOf(design).map(s => [s.id, s.sum]))
  const parts: PartRow[] = [
    { count: 1, part: 'board', value: boardOf(design).name, for: design.controllers[0]?.name ?? '' },
    { count: 1, part: 'supply', value: `${showQuantity(design.supply.volts, 'V')}, ${showQuantity(design.supply.amps, 'A')}`, for: 'board and relays' },
    ...design.links.filter(l => l.kind === 'bluetooth-serial').map(l => ({ count: 1, part: 'serial Bluetooth module', value: `${l.baud} baud`, for: l.name })),
  ]
  for (const load of design.loads) {
    const { driver, run } = load.wiring
    const figure = (kind: string, symbol: string) => {
      const sum = sums.get(`load:${load.id} ${kind}`)
      return sum ? valueOf(sum, symbol) : undefined
    }
    if (driver.kind === 'relay-module') parts.push({ count: 1, part: 'relay module channel', value: `on when ${load.output.activeLevel}`, for: load.name })
    if (driver.kind === 'coil') {
      parts.push({ count: 1, part: 'relay', value: `coil ${showQuantity(driver.volts, 'V')}, ${showQuantity(driver.ohms, 'Ω')}`, for: load.name }, { count: 1, part: 'NPN transistor', value: `gain at least ${driver.gainMin}, ${showQuantity(driver.transistorMaxAmps, 'A')}`, for: load.name }, { count: 1, part: 'diode', value: '1 A', for: load.name })
      const base = figure('coil-driver', 'Rb')
      if (base) parts.push({ count: 1, part: 'resistor', value: showQuantity(base, 'Ω'), for: `${load.name}, base` })
    }
    if (driver.kind === 'mosfet') parts.push({ count: 1, part: 'MOSFET, N-channel', value: `${showQuantity(driver.onOhms, 'Ω')} at ${showQuantity(driver.onAtGateVolts, 'V')}`, for: load.name }, { count: 1, part: 'resistor', value: '220 Ω', for: `${load.name}, gate` }, { count: 1, part: 'resistor', value: '100 kΩ', for: `${load.name}, gate to ground` })
    const rating = figure('fuse', 'In')
    if (rating !== undefined && Number.isFinite(rating)) parts.push({ count: 1, part: 'fuse', value: showQuantity(rating, 'A'), for: load.name })
    if (run) parts.push({ count: 1, part: 'two-core lead', value: `${showQuantity(run.lengthMeters, 'm')}, ${showQuantity(run.sectionMm2, 'mm²')}`, for: load.name })
  }
  for (const surface of handSurfaces(design)) {
    for (const c of surface.controls) {
      parts.push({ count: 1, part: c.kind === 'push' ? 'push button' : 'latching switch', value: 'low voltage', for: `${surface.name}, ${design.loads.find(l => l.id === c.loadId)?.name ?? ''}` })
      if (c.pullOhms !== null) parts.push({ count: 1, part: 'resistor', value: showQuantity(c.pullOhms, 'Ω'), for: `${surface.name}, pull-up of ${design.loads.find(l => l.id === c.loadId)?.name ?? ''}` })
    }
  }
  return gathered(parts)
}

/** Equal parts on one line, with all they are for. */
function gathered(parts: readonly PartRow[]): PartRow[] {
  const lines = new Map<string, PartRow>()
  for (const p of parts) {
    const known = lines.get(`${p.part} ${p.value}`)
    if (known) Object.assign(known, { count: known.count + p.count, for: `${known.for}; ${p.for}` })
    else lines.set(`${p.part} ${p.value}`, { ...p })
  }
  return [...lines.values()]
}

export function wiringCsv(design: Design): string {
  return csv(['pin', 'chip number', 'what', 'direction', 'through', 'note'], [...wiringRows(design).map(r => [r.pin, r.chip, r.what, r.direction, r.through, r.note]), ['', '', 'fingerprint', '', '', fingerprint(design)]])
}

export function partsCsv(design: Design): string {
  return csv(['count', 'part', 'value', 'for'], [...partRows(design).map(r => [r.count, r.part, r.value, r.for]), ['', 'fingerprint', fingerprint(design), '']])
}

/** The ritual of uploading for this board and this wiring, step by step. */
export function flashingSteps(design: Design): string[] {
  const board = boardOf(design)
  const all = needs(design).filter(n => n.chip >= 0)
  const on = (kind: string) => all.flatMap((n) => {
    const hazard = pinOf(board, n.chip)?.hazards.find(h => h.kind === kind)
    return hazard ? [{ n, hazard }] : []
  })
  const links = design.links.filter(l => l.kind === 'bluetooth-serial')
  return [
    'Take mains away from everything that the relays switch.',
    ...on('upload').map(({ n }) => `Unplug ${n.what} from ${pinLabel(design, n.chip)}: it disturbs the upload.`),
    ...on('boot-strap').map(({ n, hazard }) => `${pinLabel(design, n.chip)} (${n.what}) ${hazard.words}: see that nothing holds it otherwise.`),
    ...board.flashing,
    ...links.map(l => `Plug ${l.name} in again. Its terminal at ${l.baud} baud says nothing by itself; send "${l.askCode}" and the whole state comes back.`),
    ...design.loads.map(l => `After the start ${l.name} is ${startWords(l.output)}; if its relay clicked, write down when.`),
  ]
}

/** How a load starts: "off", "as it was". */
export function startWords(output: Output): string {
  return 'powerUp' in output ? output.powerUp === 'last' ? 'as it was' : output.powerUp : restOf(output) === 'stop' ? 'stopped' : output.kind === 'follower' ? 'where its own knob stands' : 'off'
}

export function flashingText(design: Design): string {
  return [`Uploading to ${boardOf(design).name} - ${design.name}`, `Fingerprint ${fingerprint(design)}`, '', ...flashingSteps(design).map(s => `[ ] ${s}`), ''].join('\n')
}
