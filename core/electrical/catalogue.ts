/** Sums that can be done by themselves, beside those a design calls for: their inputs as data, with values to start from. */
import { battery, BATTERY_DEFAULTS, BATTERY_RANGES } from './battery'
import { COIL_DRIVER_DEFAULTS, COIL_DRIVER_RANGES, coilDriver } from './coil-driver'
import { divider, DIVIDER_DEFAULTS, DIVIDER_RANGES } from './divider'
import { flyback, FLYBACK_RANGES } from './flyback'
import { fuse, FUSE_DEFAULTS, FUSE_RANGES } from './fuse'
import { mosfet, MOSFET_DEFAULTS, MOSFET_RANGES } from './mosfet'
import { PULL_UP_DEFAULTS, PULL_UP_RANGES, pullUp } from './pull-up'
import { regulator, REGULATOR_DEFAULTS, REGULATOR_RANGES } from './regulator'
import { solenoid, SOLENOID_RANGES } from './solenoid'
import type { Ranges, Sum } from './sum'
import { voltageDrop, VOLTAGE_DROP_DEFAULTS, VOLTAGE_DROP_RANGES } from './voltage-drop'
import { wear, WEAR_DEFAULTS, WEAR_RANGES } from './wear'

export interface CatalogueEntry {
  id: string
  title: string
  ranges: Ranges<Record<string, number>>
  start: Record<string, number>
  compute: (inputs: Record<string, number>) => Sum
}

function entry<T extends object>(id: string, title: string, ranges: Ranges<T>, start: T, compute: (inputs: T) => Sum): CatalogueEntry {
  return { id, title, ranges, start, compute } as unknown as CatalogueEntry
}

export const CATALOGUE: readonly CatalogueEntry[] = [
  entry('divider', 'Voltage divider', DIVIDER_RANGES, { ...DIVIDER_DEFAULTS, inputMaxVolts: 14, upperOhms: 22_000, lowerOhms: 10_000, pinMaxVolts: 5, referenceVolts: 5 }, divider),
  entry('regulator', 'Linear regulator', REGULATOR_RANGES, { ...REGULATOR_DEFAULTS, inputVolts: 12, outputVolts: 5, amps: 0.1 }, regulator),
  entry('battery', 'Battery life', BATTERY_RANGES, { ...BATTERY_DEFAULTS, capacityAmpHours: 2.4, activeAmps: 0.08, activeSeconds: 2, periodSeconds: 600, sleepAmps: 50e-6 }, battery),
  entry('solenoid', 'Solenoid duty', SOLENOID_RANGES, { onSeconds: 5, periodSeconds: 60, ratedDuty: 0.15, maxOnSeconds: 30, volts: 12, ohms: 24 }, solenoid),
  entry('coil-driver', 'Coil driver', COIL_DRIVER_RANGES, { ...COIL_DRIVER_DEFAULTS, supplyVolts: 5, coilOhms: 70, pinVolts: 5, pinMaxAmps: 0.02, gainMin: 100, transistorMaxAmps: 0.6 }, i => coilDriver(i)),
  entry('flyback', 'Flyback diode', FLYBACK_RANGES, { supplyVolts: 12, coilOhms: 400, coilHenries: 1.2, clampVolts: 0.7, diodeMaxAmps: 1, switchMaxVolts: 40 }, flyback),
  entry('mosfet', 'MOSFET', MOSFET_RANGES, { ...MOSFET_DEFAULTS, loadAmps: 2, gateVolts: 5, onOhms: 0.025, onAtGateVolts: 4.5, maxAmps: 20 }, mosfet),
  entry('pull-up', 'Pull-up', PULL_UP_RANGES, { ...PULL_UP_DEFAULTS, supplyVolts: 5, pullOhms: 4700, leadMeters: 10 }, pullUp),
  entry('voltage-drop', 'Lead', VOLTAGE_DROP_RANGES, { ...VOLTAGE_DROP_DEFAULTS, supplyVolts: 12, amps: 3, lengthMeters: 10, sectionMm2: 2.5 }, voltageDrop),
  entry('fuse', 'Fuse', FUSE_RANGES, { ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }, fuse),
  entry('wear', 'Memory wear', WEAR_RANGES, { ...WEAR_DEFAULTS, changesPerDay: 50 }, wear),
]
