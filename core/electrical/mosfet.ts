/** A MOSFET at the gate drive it really gets: voltage lost, heat, temperature. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface MosfetInputs {
  loadAmps: number
  gateVolts: number
  /** On-resistance and the gate voltage at which the data sheet states it (not the threshold). */
  onOhms: number
  onAtGateVolts: number
  /** On-resistance at temperature over that at 25 °C; 1.5 is common near 100 °C. */
  hotFactor: number
  ambientCelsius: number
  /** Junction to surroundings as mounted. */
  thermalKelvinPerWatt: number
  junctionMaxCelsius: number
  maxAmps: number
}
export const MOSFET_DEFAULTS = {
  hotFactor: 1.5,
  ambientCelsius: 40,
  thermalKelvinPerWatt: 62,
  junctionMaxCelsius: 150,
} as const

export const MOSFET_RANGES: Ranges<MosfetInputs> = {
  loadAmps: range('Load current', 'A', 1e-3, 200),
  gateVolts: range('Gate voltage', 'V', 0, 20),
  onOhms: range('On-resistance', 'Ω', 1e-4, 100),
  onAtGateVolts: range('Gate voltage of that on-resistance', 'V', 1, 15),
  hotFactor: range('Factor when hot', '×', 1, 3),
  ambientCelsius: range('Surroundings', '°C', -40, 100),
  thermalKelvinPerWatt: range('Thermal resistance', 'K/W', 0.1, 500),
  junctionMaxCelsius: range('Highest junction temperature', '°C', 80, 200),
  maxAmps: range('Drain limit', 'A', 1e-3, 1000),
}

/** Gate to ground, so that it rests off while nothing drives it, Ω. */
export const GATE_OHMS = 100_000

/** A MOSFET without a heat sink. Throws `BadInput` out of range. */
export function mosfet(given: MosfetInputs): Sum {
  const i = inRange(given, MOSFET_RANGES)
  const hot = i.onOhms * i.hotFactor
  const heat = i.loadAmps ** 2 * hot
  const junction = i.ambientCelsius + heat * i.thermalKelvinPerWatt
  return sum(
    [
      figure('Rh', 'on-resistance when hot', hot, 'Ω', 'on-resistance x factor when hot'),
      figure('Vd', 'voltage lost', i.loadAmps * hot, 'V', 'I x Rh'),
      figure('P', 'heat', heat, 'W', 'I² x Rh'),
      figure('Tj', 'junction temperature', junction, '°C', 'surroundings + P x thermal resistance'),
    ],
    [
      limit(
        'gate drive',
        i.onAtGateVolts / Math.max(i.gateVolts, 1e-3),
        'take a logic-level part whose on-resistance is stated at this gate voltage, or a gate driver',
      ),
      limit(
        'junction temperature',
        (junction - i.ambientCelsius) / (i.junctionMaxCelsius - i.ambientCelsius),
        'lower on-resistance, a heat sink, or less current',
      ),
      limit('drain current', i.loadAmps / i.maxAmps, 'take a part for more current'),
    ],
    'conduction loss I²R and thermal resistance, as in MOSFET data sheets and application notes',
    ['The threshold voltage is where it begins to conduct, not where it is on.'],
  )
}
