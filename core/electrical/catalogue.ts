/**
 * Sums that can be done by themselves, beside those a design calls for: their inputs as data, with
 * values to start from.
 */
import { axes, AXES_RANGES } from './axes'
import { battery, BATTERY_DEFAULTS, BATTERY_RANGES } from './battery'
import { bridge, BRIDGE_DEFAULTS, BRIDGE_RANGES } from './bridge'
import { calibration, CALIBRATION_RANGES } from './calibration'
import {
  COIL_DRIVER_DEFAULTS,
  COIL_DRIVER_RANGES,
  coilDriver,
  COIL_VOLTAGE_RANGES,
  coilVoltage,
} from './coil-driver'
import { dimmer, DIMMER_RANGES } from './dimmer'
import { divider, DIVIDER_DEFAULTS, DIVIDER_RANGES } from './divider'
import { flyback, FLYBACK_RANGES } from './flyback'
import { fuse, FUSE_DEFAULTS, FUSE_RANGES } from './fuse'
import { knob, KNOB_DEFAULTS, KNOB_RANGES } from './knob'
import { LEVEL_SHIFT_DEFAULTS, LEVEL_SHIFT_RANGES, levelShift } from './level-shift'
import { mosfet, MOSFET_DEFAULTS, MOSFET_RANGES } from './mosfet'
import { opto, OPTO_DEFAULTS, OPTO_RANGES } from './opto'
import { PULL_UP_DEFAULTS, PULL_UP_RANGES, pullUp } from './pull-up'
import {
  regulator,
  REGULATOR_DEFAULTS,
  REGULATOR_RANGES,
  SWITCHING_RANGES,
  switchingRegulator,
} from './regulator'
import { coils, COILS_RANGES } from './coils'
import { solenoid, SOLENOID_RANGES } from './solenoid'
import { stepper, STEPPER_RANGES } from './stepper'
import type { Ranges, Sum } from './sum'
import { thermistor, THERMISTOR_DEFAULTS, THERMISTOR_RANGES } from './thermistor'
import { uartClock, UART_CLOCK_RANGES } from './uart-clock'
import { voltageDrop, VOLTAGE_DROP_DEFAULTS, VOLTAGE_DROP_RANGES } from './voltage-drop'
import { wear, WEAR_DEFAULTS, WEAR_RANGES } from './wear'

export interface CatalogueEntry {
  id: string
  title: string
  ranges: Ranges<Record<string, number>>
  start: Record<string, number>
  compute: (inputs: Record<string, number>) => Sum
}

function entry<T extends object>(
  id: string,
  title: string,
  ranges: Ranges<T>,
  start: T,
  compute: (inputs: T) => Sum,
): CatalogueEntry {
  return { id, title, ranges, start, compute } as unknown as CatalogueEntry
}

export const CATALOGUE: readonly CatalogueEntry[] = [
  entry(
    'divider',
    'Voltage divider',
    DIVIDER_RANGES,
    {
      ...DIVIDER_DEFAULTS,
      inputMaxVolts: 14,
      upperOhms: 22_000,
      lowerOhms: 10_000,
      pinMaxVolts: 5,
      referenceVolts: 5,
    },
    divider,
  ),
  entry(
    'regulator',
    'Linear regulator',
    REGULATOR_RANGES,
    { ...REGULATOR_DEFAULTS, inputVolts: 12, outputVolts: 5, amps: 0.1 },
    regulator,
  ),
  entry(
    'switching-regulator',
    'Switching regulator',
    SWITCHING_RANGES,
    { inputVolts: 12, outputVolts: 5, amps: 1, maxAmps: 3, dropoutVolts: 1, efficiency: 0.85 },
    switchingRegulator,
  ),
  entry(
    'battery',
    'Battery life',
    BATTERY_RANGES,
    {
      ...BATTERY_DEFAULTS,
      capacityAmpHours: 2.4,
      activeAmps: 0.08,
      activeSeconds: 2,
      periodSeconds: 600,
      sleepAmps: 50e-6,
    },
    battery,
  ),
  entry(
    'solenoid',
    'Solenoid duty',
    SOLENOID_RANGES,
    { onSeconds: 5, periodSeconds: 60, ratedDuty: 0.15, maxOnSeconds: 30, volts: 12, ohms: 24 },
    solenoid,
  ),
  entry(
    'coil-driver',
    'Coil driver',
    COIL_DRIVER_RANGES,
    {
      ...COIL_DRIVER_DEFAULTS,
      supplyVolts: 5,
      coilOhms: 70,
      pinVolts: 5,
      pinMaxAmps: 0.02,
      gainMin: 100,
      transistorMaxAmps: 0.6,
    },
    i => coilDriver(i),
  ),
  entry(
    'flyback',
    'Flyback diode',
    FLYBACK_RANGES,
    {
      supplyVolts: 12,
      coilOhms: 400,
      coilHenries: 1.2,
      clampVolts: 0.7,
      diodeMaxAmps: 1,
      switchMaxVolts: 40,
    },
    flyback,
  ),
  entry(
    'mosfet',
    'MOSFET',
    MOSFET_RANGES,
    {
      ...MOSFET_DEFAULTS,
      loadAmps: 2,
      gateVolts: 5,
      onOhms: 0.025,
      onAtGateVolts: 4.5,
      maxAmps: 20,
    },
    mosfet,
  ),
  entry(
    'pull-up',
    'Pull-up',
    PULL_UP_RANGES,
    { ...PULL_UP_DEFAULTS, supplyVolts: 5, pullOhms: 4700, leadMeters: 10 },
    pullUp,
  ),
  entry(
    'voltage-drop',
    'Lead',
    VOLTAGE_DROP_RANGES,
    { ...VOLTAGE_DROP_DEFAULTS, supplyVolts: 12, amps: 3, lengthMeters: 10, sectionMm2: 2.5 },
    voltageDrop,
  ),
  entry('fuse', 'Fuse', FUSE_RANGES, { ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }, fuse),
  entry(
    'uart-clock',
    'Speed of a serial port',
    UART_CLOCK_RANGES,
    { clockHz: 16_000_000, divisorStep: 8, baud: 9600 },
    uartClock,
  ),
  entry(
    'level-shift',
    'Serial wire between two voltages',
    LEVEL_SHIFT_RANGES,
    { ...LEVEL_SHIFT_DEFAULTS, highVolts: 5, lowVolts: 3.3, lowMaxVolts: 3.6, baud: 9600 },
    levelShift,
  ),
  entry(
    'opto',
    'Optocoupler',
    OPTO_RANGES,
    { ...OPTO_DEFAULTS, pinVolts: 5, pinMaxAmps: 0.02 },
    opto,
  ),
  entry(
    'bridge',
    'Motor bridge',
    BRIDGE_RANGES,
    {
      ...BRIDGE_DEFAULTS,
      motorVolts: 12,
      runAmps: 1,
      windingOhms: 4,
      onOhms: 0.3,
      maxAmps: 2,
      peakAmps: 4,
    },
    bridge,
  ),
  entry(
    'stepper',
    'Stepper drive',
    STEPPER_RANGES,
    {
      supplyVolts: 12,
      phaseOhms: 2.4,
      phaseHenries: 0.005,
      phaseAmps: 0.8,
      driverMaxAmps: 1.5,
      stepHz: 400,
      stepsPerTurn: 200,
    },
    stepper,
  ),
  entry(
    'coils',
    'Coils of a stepper',
    COILS_RANGES,
    {
      coilVolts: 5,
      coilOhms: 50,
      lossVolts: 1,
      maxAmps: 0.5,
      stepSeconds: 0.002,
      stepsPerTurn: 2048,
      stepsEach: 2,
      runSeconds: 20,
    },
    coils,
  ),
  entry(
    'coil-feed',
    'Coil against what feeds it',
    COIL_VOLTAGE_RANGES,
    { feedVolts: 5, coilVolts: 5 },
    coilVoltage,
  ),
  entry(
    'dimmer',
    'Dimmer',
    DIMMER_RANGES,
    { volts: 230, loadAmps: 0.2, maxAmps: 1, minAmps: 0.05 },
    dimmer,
  ),
  entry(
    'calibration',
    'Two-point calibration',
    CALIBRATION_RANGES,
    { raw1: 102, value1: 0, raw2: 921, value2: 100, bits: 10 },
    calibration,
  ),
  entry(
    'thermistor',
    'Thermistor',
    THERMISTOR_RANGES,
    { ...THERMISTOR_DEFAULTS, supplyVolts: 3.3 },
    thermistor,
  ),
  entry(
    'knob',
    'Knob',
    KNOB_RANGES,
    { ...KNOB_DEFAULTS, detentsPerTurn: 24, debounceSeconds: 0 },
    knob,
  ),
  entry('axes', 'Two axes at an angle', AXES_RANGES, { degrees: 30, x: 100, y: 0 }, axes),
  entry('wear', 'Memory wear', WEAR_RANGES, { ...WEAR_DEFAULTS, changesPerDay: 50 }, wear),
]
