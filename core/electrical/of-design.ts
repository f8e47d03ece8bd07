/** All sums of a design: each beside the part it belongs to, with the inputs it was given and an edit where one helps. */
import { handSurfaces } from '../design/find'
import { boardOf } from '../design/pins'
import type { Edit } from '../design/edits'
import type { Control, Design, Load } from '../design/schema'
import { count } from '../units/format'
import { showQuantity } from '../units/quantity'
import { COIL_DRIVER_DEFAULTS, coilDriver } from './coil-driver'
import { contact } from './contact'
import { flyback } from './flyback'
import { fuse, FUSE_DEFAULTS } from './fuse'
import { mosfet, MOSFET_DEFAULTS } from './mosfet'
import { PULL_UP_DEFAULTS, pullUp } from './pull-up'
import { BadInput, valueOf, type Sum } from './sum'
import { supply, SUPPLY_DEFAULTS, type Consumer } from './supply'
import { DENSITY, voltageDrop, VOLTAGE_DROP_DEFAULTS } from './voltage-drop'
import { wear, WEAR_DEFAULTS } from './wear'

export interface WiringSum {
  /** "load:fan coil-driver": stable, for findings and keys. */
  id: string
  kind: string
  title: string
  /** JSON Pointer of the part. */
  path: string
  loadId: string | null
  controlId: string | null
  /** What it was computed from, in words. */
  given: string[]
  /** null when an input cannot be; `refused` says which. */
  sum: Sum | null
  refused: string
  fixes: { words: string, edit: Edit }[]
}

/** What a board of each toolchain takes by itself at most, A: radios at their sending peak. */
const BOARD_AMPS: Record<string, number> = { 'avr-8bit': 0.05, 'wifi-single-radio': 0.35, 'dual-radio': 0.5, 'single-core': 0.35, 'linux': 1.2, 'router': 0.6, 'other': 0.1 }
/** Assumed for the wear of memory until the bench or the log says otherwise. */
const CHANGES_PER_DAY = 50
/** Short leads work with less wetting current than long ones. */
const LONG_LEAD_M = 3

/** How often loads were switched while somebody watched. */
export interface Counted { seconds: number, moves: Record<string, number> }

/** `counted`: switchings of a bench run, from which the wear of memory is reckoned; without it a number is assumed. */
export function sumsOf(design: Design, counted: Counted | null = null): WiringSum[] {
  return [
    supplySum(design),
    ...design.loads.flatMap((load, i) => loadSums(design, load, `/loads/${i}/wiring`, counted)),
    ...handSurfaces(design).flatMap(s => s.controls.map((c, j) => controlSum(design, c, `/surfaces/${design.surfaces.indexOf(s)}/controls/${j}`))),
  ]
}

type Part = Pick<WiringSum, 'id' | 'kind' | 'title' | 'path' | 'given'> & Partial<WiringSum>

function made(part: Part, compute: () => Sum, fixes: (of: Sum) => WiringSum['fixes'] = () => []): WiringSum {
  const base = { loadId: null, controlId: null, ...part }
  try {
    const of = compute()
    return { ...base, sum: of, refused: '', fixes: of.ok ? [] : fixes(of) }
  }
  catch (error) {
    if (error instanceof BadInput) return { ...base, sum: null, refused: error.message, fixes: [] }
    throw error
  }
}

function loadSums(design: Design, load: Load, path: string, counted: Counted | null): WiringSum[] {
  const { driver, load: what, contact: rating, run } = load.wiring
  const board = boardOf(design)
  const of = (kind: string, title: string, given: string[]): Part => ({ id: `load:${load.id} ${kind}`, kind, title, path, given, loadId: load.id })
  const sums: WiringSum[] = []
  if (driver.kind === 'coil') {
    sums.push(made(of('coil-driver', 'Coil driver', [`coil ${showQuantity(driver.volts, 'V')}, ${showQuantity(driver.ohms, 'Ω')}`, `pin ${showQuantity(board.logicVolts, 'V')}, at most ${showQuantity(board.pinMaxAmps, 'A')}`, `gain at least ${driver.gainMin}`]),
      () => coilDriver({ ...COIL_DRIVER_DEFAULTS, supplyVolts: driver.volts, coilOhms: driver.ohms, pinVolts: board.logicVolts, pinMaxAmps: board.pinMaxAmps, gainMin: driver.gainMin, transistorMaxAmps: driver.transistorMaxAmps })))
    sums.push(made(of('flyback', 'Flyback diode', [`coil ${showQuantity(driver.henries, 'H')}`, 'silicon diode of 1 A, transistor for 40 V']),
      () => flyback({ supplyVolts: driver.volts, coilOhms: driver.ohms, coilHenries: driver.henries, clampVolts: 0.7, diodeMaxAmps: 1, switchMaxVolts: 40 })))
  }
  if (driver.kind === 'mosfet' && what) {
    sums.push(made(of('mosfet', 'MOSFET', [`${showQuantity(what.amps, 'A')} through ${showQuantity(driver.onOhms, 'Ω')} at ${showQuantity(driver.onAtGateVolts, 'V')}`, `gate at ${showQuantity(board.logicVolts, 'V')}, no heat sink`]),
      () => mosfet({ ...MOSFET_DEFAULTS, loadAmps: what.amps, gateVolts: board.logicVolts, onOhms: driver.onOhms, onAtGateVolts: driver.onAtGateVolts, maxAmps: driver.maxAmps })))
  }
  if (driver.kind !== 'mosfet' && what && rating) {
    sums.push(made(of('contact', 'Contact', [`${showQuantity(what.amps, 'A')} at ${showQuantity(what.volts, 'V')}`, `contact ${showQuantity(rating.ratedAmps, 'A')}, inrush ${showQuantity(rating.inrushAmps, 'A')}`]),
      () => contact({ loadAmps: what.amps, ratedAmps: rating.ratedAmps, ratedInrushAmps: rating.inrushAmps }, what.type, what.mains)))
  }
  if (what && run && !what.mains) {
    sums.push(made(of('voltage-drop', 'Lead', [`${showQuantity(what.amps, 'A')} at ${showQuantity(what.volts, 'V')}`, `${showQuantity(run.lengthMeters, 'm')} of ${showQuantity(run.sectionMm2, 'mm²')}, copper at 40 °C`]),
      () => voltageDrop({ ...VOLTAGE_DROP_DEFAULTS, supplyVolts: what.volts, amps: what.amps, lengthMeters: run.lengthMeters, sectionMm2: run.sectionMm2 }),
      (s) => {
        const next = valueOf(s, 'An')
        return Number.isFinite(next) && next > run.sectionMm2 ? [{ words: `Take ${showQuantity(next, 'mm²')}`, edit: { type: 'setWiring', loadId: load.id, patch: { run: { ...run, sectionMm2: next } } } }] : []
      }))
    sums.push(made(of('fuse', 'Fuse', [`${showQuantity(what.amps, 'A')}`, `lead of ${showQuantity(run.sectionMm2, 'mm²')}, ${showQuantity(run.sectionMm2 * DENSITY, 'A')} at most`]),
      () => fuse({ ...FUSE_DEFAULTS, loadAmps: what.amps, wireMaxAmps: run.sectionMm2 * DENSITY })))
  }
  if ('powerUp' in load.output && load.output.powerUp === 'last') {
    const seen = counted && counted.seconds >= 60 ? counted.moves[load.id] ?? 0 : null
    const changesPerDay = seen ? Math.round(seen / (counted?.seconds ?? 1) * 86_400) : CHANGES_PER_DAY
    sums.push(made(of('wear', 'Memory wear', [seen ? `${count(seen)} switchings in ${count((counted?.seconds ?? 0) / 60)} minutes on the bench, as if all day: ${count(changesPerDay)} a day` : `${CHANGES_PER_DAY} changes a day assumed`, `saved after ${load.output.saveDelayMs} ms of rest, two slots of 100,000 writes`]),
      () => wear({ ...WEAR_DEFAULTS, changesPerDay })))
  }
  return sums
}

function controlSum(design: Design, control: Control, path: string): WiringSum {
  const board = boardOf(design)
  const ohms = control.pullOhms ?? board.pullUpOhms
  return made(
    { id: `control:${control.id} pull-up`, kind: 'pull-up', title: 'Pull-up', path, controlId: control.id, loadId: control.loadId, given: [`${showQuantity(ohms, 'Ω')}${control.pullOhms === null ? ' in the board' : ''} to ${showQuantity(board.logicVolts, 'V')}`, `lead of ${showQuantity(control.leadMeters, 'm')}`] },
    () => pullUp({ ...PULL_UP_DEFAULTS, supplyVolts: board.logicVolts, pullOhms: ohms, leadMeters: control.leadMeters, wettingAmps: control.leadMeters > LONG_LEAD_M ? PULL_UP_DEFAULTS.wettingAmps : PULL_UP_DEFAULTS.wettingAmps / 20 }),
    () => [3300, 2200, 1000].filter(r => r < ohms && board.logicVolts / r >= PULL_UP_DEFAULTS.wettingAmps).slice(0, 1).map(r => ({ words: `Pull up with ${showQuantity(r, 'Ω')}`, edit: { type: 'setControl', controlId: control.id, patch: { pullOhms: r } } })),
  )
}

function supplySum(design: Design): WiringSum {
  const all = consumers(design)
  return made(
    { id: 'supply supply', kind: 'supply', title: 'Supply of board and relays', path: '/supply', given: [`${showQuantity(design.supply.volts, 'V')}, ${showQuantity(design.supply.amps, 'A')}`, ...all.map(c => `${c.count > 1 ? `${c.count} x ` : ''}${c.what} ${showQuantity(c.amps, 'A')}`), 'the loads themselves are fed apart from it'] },
    () => supply({ ...SUPPLY_DEFAULTS, supplyVolts: design.supply.volts, supplyAmps: design.supply.amps }, all),
    (s) => {
      const next = valueOf(s, 'In')
      return Number.isFinite(next) ? [{ words: `Take a supply of ${showQuantity(next, 'A')}`, edit: { type: 'setSupply', patch: { amps: next } } }] : []
    },
  )
}

/** What the supply feeds: the board, serial modules, and what each driver takes while its load is on. */
export function consumers(design: Design): Consumer[] {
  const { volts } = design.supply
  const board = boardOf(design)
  const drivers = design.loads.flatMap(({ name, wiring: { driver } }) => driver.kind === 'relay-module' ? [{ what: `relay of ${name}`, amps: driver.amps }] : driver.kind === 'coil' ? [{ what: `coil of ${name}`, amps: driver.volts / driver.ohms }] : [])
  return [
    { what: 'board', amps: BOARD_AMPS[board.toolchain] ?? 0.1, count: 1, volts },
    ...design.links.filter(l => l.kind === 'bluetooth-serial').map(l => ({ what: `module of ${l.name}`, amps: 0.04, count: 1, volts })),
    ...drivers.map(d => ({ ...d, count: 1, volts })),
  ]
}
