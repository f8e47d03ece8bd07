/** What feeds what: from the supply through regulators to board and drivers. */
import { lampsOf } from '../design/find'
import type { BoardProfile } from '../boards/schema'
import { classOf } from '../boards/classes'
import { hasModule } from '../design/links/traits'
import { hasCoils, isOpposed } from '../design/outputs/traits'
import { boardOf, frontOf } from '../design/pins'
import type { Design, Load, Regulator } from '../design/schema'
import { linesOf } from '../design/values'
import { showQuantity } from '../units/quantity'
import { coilVoltage } from './coil-driver'
import { lampAmps } from './lamp'
import { regulator, REGULATOR_DEFAULTS, switchingRegulator } from './regulator'
import { supply, SUPPLY_DEFAULTS, type Consumer } from './supply'
import { valueOf } from './sum'
import { made, type WiringSum } from './wiring-sum'

/** What a feed carries; `fedBy`: null = the supply. */
export interface Fed extends Consumer {
  fedBy: string | null
}

/** The voltage that something is fed with, V. */
export function feedVolts(design: Design, fedBy: string | null): number {
  return design.regulators.find(r => r.id === fedBy)?.volts ?? design.supply.volts
}

/** "the supply", "5 V regulator". */
export function feedName(design: Design, fedBy: string | null): string {
  return design.regulators.find(r => r.id === fedBy)?.name ?? 'the supply'
}

/**
 * All that is fed: the board, serial modules, lamps, what each driver takes while its load is on,
 * and regulators by others.
 */
export function allFed(design: Design): Fed[] {
  const out = endConsumers(design)
  // What stands later in the chain is known before what feeds it.
  for (const r of design.regulators.toReversed()) {
    const amps = total(out, r.id)
    if (amps === 0) continue
    const from = feedVolts(design, r.fedBy)
    out.push({
      what: r.name,
      amps: r.kind === 'linear' ? amps : (r.volts * amps) / (from * r.efficiency),
      count: 1,
      volts: from,
      fedBy: r.fedBy,
    })
  }
  return out
}

/** What the supply itself feeds. */
export function consumers(design: Design): Consumer[] {
  return fedBySupply(allFed(design))
}

function fedBySupply(fed: readonly Fed[]): Fed[] {
  return fed.filter(f => f.fedBy === null)
}

/** What something feeds all together, A; null = the supply. */
export function total(fed: readonly Fed[], by: string | null): number {
  return fed.filter(f => f.fedBy === by).reduce((sum, f) => sum + f.amps * f.count, 0)
}

function endConsumers(design: Design): Fed[] {
  const board = boardOf(design)
  const fedBy = design.controllers[0]?.fedBy ?? null
  const volts = feedVolts(design, fedBy)
  const self = (what: string, amps: number): Fed => ({ what, amps, count: 1, volts, fedBy })
  return [
    self('board', classOf(board).selfAmps),
    ...(design.front
      ? [
          self(
            design.front.name,
            classOf(frontOf(design) ?? ({ toolchain: 'other' } as BoardProfile)).selfAmps,
          ),
        ]
      : []),
    ...design.links.filter(hasModule).map(l => self(`module of ${l.name}`, 0.04)),
    ...lampsOf(design).map(l => self(`lamp ${l.name}`, lampAmps(board.logicVolts))),
    ...design.loads.flatMap(l =>
      driverConsumers(l).map(d => ({
        ...d,
        count: 1,
        volts: feedVolts(design, l.wiring.fedBy),
        fedBy: l.wiring.fedBy,
      })),
    ),
  ]
}

/** What the driver of a load takes while it is on. */
function driverConsumers({
  name,
  output,
  wiring: { driver },
}: Load): Pick<Consumer, 'what' | 'amps'>[] {
  if (driver.kind === 'coil') return [{ what: `coil of ${name}`, amps: driver.volts / driver.ohms }]
  if (driver.kind === 'four-coils' && hasCoils(output))
    return [{ what: `coils of ${name}`, amps: (2 * driver.coilVolts) / driver.coilOhms }]
  if (driver.kind !== 'relay-module') return []
  const relays = linesOf(output).map(line => ({
    what: line.name ? `relay of ${name}, ${line.name}` : `relay of ${name}`,
    amps: driver.amps,
  }))
  // Two relays that exclude each other are never on together.
  return isOpposed(output) ? relays.slice(0, 1) : relays
}

/** The supply, each regulator, and each coil against what feeds it. */
export function supplySums(design: Design): WiringSum[] {
  const fed = allFed(design)
  return [
    supplySum(design, fedBySupply(fed)),
    ...design.regulators.map((r, i) => regulatorSum(design, r, i, fed)),
    ...design.loads.flatMap((l, i) => coilFeed(design, l, i)),
  ]
}

function fedWords(fed: readonly Consumer[]): string[] {
  return fed.map(c => `${c.count > 1 ? `${c.count} x ` : ''}${c.what} ${showQuantity(c.amps, 'A')}`)
}

function supplySum(design: Design, all: readonly Consumer[]): WiringSum {
  return made(
    {
      id: 'supply supply',
      kind: 'supply',
      title: 'Supply of board and relays',
      path: '/supply',
      given: [
        `${showQuantity(design.supply.volts, 'V')}, ${showQuantity(design.supply.amps, 'A')}`,
        ...fedWords(all),
        'the loads themselves are fed apart from it',
      ],
    },
    () =>
      supply(
        { ...SUPPLY_DEFAULTS, supplyVolts: design.supply.volts, supplyAmps: design.supply.amps },
        all,
      ),
    s => {
      const next = valueOf(s, 'In')
      return Number.isFinite(next)
        ? [
            {
              words: `Take a supply of ${showQuantity(next, 'A')}`,
              edit: { type: 'setSupply', patch: { amps: next } },
            },
          ]
        : []
    },
  )
}

function regulatorSum(design: Design, r: Regulator, i: number, all: readonly Fed[]): WiringSum {
  const fed = all.filter(f => f.fedBy === r.id)
  const amps = total(fed, r.id)
  const inputVolts = feedVolts(design, r.fedBy)
  const given = {
    inputVolts,
    outputVolts: r.volts,
    // Nothing hangs on it yet: the least that can be reckoned with.
    amps: Math.max(1e-4, amps),
    maxAmps: r.maxAmps,
    dropoutVolts: Math.max(0.05, r.dropoutVolts),
  }
  return made(
    {
      id: `regulator:${r.id} regulator`,
      kind: 'regulator',
      title: r.name,
      path: `/regulators/${i}`,
      given: [
        `${showQuantity(inputVolts, 'V')} from ${feedName(design, r.fedBy)} to ${showQuantity(r.volts, 'V')}, at most ${showQuantity(r.maxAmps, 'A')}`,
        ...fedWords(fed),
      ],
    },
    () =>
      r.kind === 'linear'
        ? regulator({ ...REGULATOR_DEFAULTS, ...given })
        : switchingRegulator({ ...given, efficiency: r.efficiency }),
    () =>
      r.kind === 'linear' && inputVolts >= r.volts + 1
        ? [
            {
              words: 'Take a switching regulator',
              edit: {
                type: 'setRegulator',
                regulatorId: r.id,
                patch: { kind: 'switching', efficiency: 0.85, dropoutVolts: 1 },
              },
            },
          ]
        : [],
  )
}

/** A coil works within limits of its voltage; what feeds it has to lie there. */
function coilFeed(design: Design, load: Load, i: number): WiringSum[] {
  const { driver, fedBy } = load.wiring
  const own =
    (driver.kind === 'coil' && driver.volts) || (driver.kind === 'four-coils' && driver.coilVolts)
  if (!own) return []
  const volts = feedVolts(design, fedBy)
  const better = [null, ...design.regulators.map(r => r.id)].find(id => {
    const other = feedVolts(design, id)
    return other >= 0.8 * own && other <= 1.1 * own
  })
  return [
    made(
      {
        id: `load:${load.id} coil-feed`,
        kind: 'coil-feed',
        title: 'Coil against what feeds it',
        path: `/loads/${i}/wiring`,
        loadId: load.id,
        given: [
          `coil ${showQuantity(own, 'V')}`,
          `${showQuantity(volts, 'V')} from ${feedName(design, fedBy)}`,
        ],
      },
      () => coilVoltage({ feedVolts: volts, coilVolts: own }),
      () =>
        better === undefined
          ? []
          : [
              {
                words: `Feed it from ${feedName(design, better)}`,
                edit: { type: 'setWiring', loadId: load.id, patch: { fedBy: better } },
              },
            ],
    ),
  ]
}
