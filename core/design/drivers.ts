/**
 * Drivers between a pin and a load: what each is called, what a new one starts with, and which
 * outputs it can serve.
 */
import { outputRow } from './outputs/rows'
import { activeLevelOf } from './outputs/traits'
import type { Driver, Load, Output, Wiring } from './schema'

export const DRIVER_WORDS: Record<Driver['kind'], string> = {
  none: 'nothing',
  'relay-module': 'relay module',
  coil: 'relay coil behind a transistor',
  mosfet: 'MOSFET',
  bridge: 'motor bridge',
  stepper: 'stepper driver',
  dimmer: 'dimmer, a closed box',
  opto: 'optocouplers',
  'four-coils': 'four coils on switches',
}

export const NEW_DRIVERS: Record<Driver['kind'], Driver> = {
  none: { kind: 'none' },
  'relay-module': { kind: 'relay-module', amps: 0.07 },
  coil: {
    kind: 'coil',
    volts: 5,
    ohms: 70,
    henries: 0.1,
    gainMin: 100,
    transistorMaxAmps: 0.6,
    baseOhms: 0,
    gate: null,
  },
  mosfet: { kind: 'mosfet', onOhms: 0.025, onAtGateVolts: 4.5, maxAmps: 20 },
  bridge: { kind: 'bridge', windingOhms: 4, onOhms: 0.3, maxAmps: 2, peakAmps: 4 },
  stepper: {
    kind: 'stepper',
    phaseOhms: 2.4,
    phaseHenries: 0.005,
    phaseAmps: 0.8,
    maxAmps: 1.5,
    stepsPerTurn: 200,
  },
  'four-coils': {
    kind: 'four-coils',
    coilVolts: 5,
    coilOhms: 50,
    maxAmps: 0.5,
    lossVolts: 1,
    stepsPerTurn: 2048,
  },
  dimmer: { kind: 'dimmer', maxAmps: 1, minAmps: 0.05 },
  opto: {
    kind: 'opto',
    lampVolts: 1.2,
    lampAmps: 0.005,
    transferMin: 0.5,
    lineVolts: 5,
    lineOhms: 10_000,
  },
}

/** The drivers that fit an output, the usual one first. */
export function driversOf(output: Output): readonly Driver['kind'][] {
  return outputRow(output).drivers(output)
}

/** Switches to ground that conduct when their pin is high. */
const CONDUCT_HIGH: readonly Driver['kind'][] = ['coil', 'mosfet', 'four-coils']

/** Said to be on when its pin is low, behind a switch that conducts when it is high. */
export function isUpsideDown({ output, wiring }: Pick<Load, 'output' | 'wiring'>): boolean {
  return (
    CONDUCT_HIGH.includes(wiring.driver.kind)
    && wiring.isolator === null
    && activeLevelOf(output) === 'low'
  )
}

/** A motor or another coil: its current goes on when its switch opens. */
export function winds({ load }: Wiring): boolean {
  return load?.type === 'motor' || load?.type === 'solenoid'
}
