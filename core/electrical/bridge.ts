/**
 * A motor on a bridge: heat at its running current, and the current when it is stalled or starts.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface BridgeInputs {
  motorVolts: number
  runAmps: number
  /** Resistance of the winding: what limits the current of a motor that stands. */
  windingOhms: number
  /** Both switches of the bridge in series. */
  onOhms: number
  maxAmps: number
  peakAmps: number
  ambientCelsius: number
  thermalKelvinPerWatt: number
  junctionMaxCelsius: number
}
export const BRIDGE_DEFAULTS = {
  ambientCelsius: 40,
  thermalKelvinPerWatt: 40,
  junctionMaxCelsius: 150,
} as const

export const BRIDGE_RANGES: Ranges<BridgeInputs> = {
  motorVolts: range('Motor supply', 'V', 1, 60),
  runAmps: range('Running current', 'A', 1e-3, 100),
  windingOhms: range('Winding', 'Ω', 0.01, 10_000),
  onOhms: range('Bridge, both switches', 'Ω', 1e-3, 20),
  maxAmps: range('Bridge, lasting', 'A', 0.01, 200),
  peakAmps: range('Bridge, peak', 'A', 0.01, 500),
  ambientCelsius: range('Surroundings', '°C', -40, 100),
  thermalKelvinPerWatt: range('Thermal resistance', 'K/W', 0.1, 500),
  junctionMaxCelsius: range('Highest junction temperature', '°C', 80, 200),
}

/** Currents and heat of a motor bridge. Throws `BadInput` out of range. */
export function bridge(given: BridgeInputs): Sum {
  const i = inRange(given, BRIDGE_RANGES)
  const stall = i.motorVolts / (i.windingOhms + i.onOhms)
  const heat = i.runAmps ** 2 * i.onOhms
  const junction = i.ambientCelsius + heat * i.thermalKelvinPerWatt
  return sum(
    [
      figure('Is', 'current of the standing motor', stall, 'A', 'supply / (winding + bridge)'),
      figure('P', 'heat in the bridge', heat, 'W', 'running current² x bridge'),
      figure('Tj', 'junction temperature', junction, '°C', 'surroundings + P x thermal resistance'),
    ],
    [
      limit('running current', i.runAmps / i.maxAmps, 'a bridge for more current'),
      limit(
        'starting current',
        stall / i.peakAmps,
        'a bridge with a higher peak, or one that limits the current',
      ),
      limit(
        'junction temperature',
        (junction - i.ambientCelsius) / (i.junctionMaxCelsius - i.ambientCelsius),
        'a bridge of less resistance, or a heat sink',
      ),
    ],
    'direct-current motor at standstill (Ohm) and conduction loss I²R, as in textbooks and bridge data sheets',
    [
      'What a motor moves can crush: keep it guarded, end it by contacts, and keep a switch that cuts its power within reach.',
    ],
  )
}
