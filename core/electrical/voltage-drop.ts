/**
 * Voltage lost on a two-wire low-voltage run of copper, and the smallest conductor that will do.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

/** Copper at 20 °C, Ω mm² / m (IEC 60028: 1/58), and its temperature coefficient, 1/K. */
const COPPER = 1 / 58
const COPPER_PER_KELVIN = 0.00393
/** Nominal cross-sections of IEC 60228, mm², with the small ones of flexible leads. */
export const SECTIONS = [0.14, 0.22, 0.34, 0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10] as const
/** Current density allowed here, A/mm²: modest, because leads lie in bundles and boxes. */
export const DENSITY = 5

export interface VoltageDropInputs {
  supplyVolts: number
  amps: number
  lengthMeters: number
  sectionMm2: number
  /** Part of the supply that may be lost. */ allowed: number
  conductorCelsius: number
}
export const VOLTAGE_DROP_DEFAULTS = { allowed: 0.05, conductorCelsius: 40 } as const

/** Cross-section of an American wire gauge, mm²: d = 0.127 mm x 92^((36 - n) / 39) (ASTM B258). */
export function gaugeMm2(gauge: number): number {
  return (Math.PI / 4) * (0.127 * 92 ** ((36 - gauge) / 39)) ** 2
}

/** The gauge with at least this cross-section, the thinnest that does. */
export function gaugeAbove(mm2: number): number {
  for (let gauge = 40; gauge >= 0; gauge--) if (gaugeMm2(gauge) >= mm2 * (1 - 1e-6)) return gauge
  throw new RangeError(`no gauge has ${mm2} mm²`)
}

export const VOLTAGE_DROP_RANGES: Ranges<VoltageDropInputs> = {
  supplyVolts: range('Supply', 'V', 1, 60),
  amps: range('Current', 'A', 1e-3, 100),
  lengthMeters: range('Length, one way', 'm', 0.01, 1000),
  sectionMm2: range('Cross-section', 'mm²', 0.01, 100),
  allowed: range('Allowed drop', '', 0.005, 0.3),
  conductorCelsius: range('Conductor temperature', '°C', -20, 90),
}

/**
 * What a lead of copper takes, V, and the section that would do. Throws `BadInput` out of range.
 */
export function voltageDrop(given: VoltageDropInputs): Sum {
  const i = inRange(given, VOLTAGE_DROP_RANGES)
  const rho = COPPER * (1 + COPPER_PER_KELVIN * (i.conductorCelsius - 20))
  const ohms = (2 * i.lengthMeters * rho) / i.sectionMm2
  const drop = ohms * i.amps
  const needed = Math.max(
    (2 * i.lengthMeters * rho * i.amps) / (i.allowed * i.supplyVolts),
    i.amps / DENSITY,
  )
  const section = SECTIONS.find(s => s >= needed * (1 - 1e-9))
  return sum(
    [
      figure('R', 'both wires', ohms, 'Ω', '2 x length x resistivity / cross-section'),
      figure('Vd', 'voltage lost', drop, 'V', 'R x I'),
      figure('p', 'of the supply', (drop / i.supplyVolts) * 100, '%', 'Vd / supply'),
      figure(
        'A',
        'cross-section needed',
        needed,
        'mm²',
        'larger of 2 x length x resistivity x I / (allowed x supply) and I / 5 A per mm²',
      ),
      figure('An', 'next conductor', section ?? Infinity, 'mm²', 'IEC 60228 at or above A'),
      figure(
        'G',
        'or gauge',
        section ? gaugeAbove(needed) : Infinity,
        '',
        'ASTM B258, thinnest with at least A',
      ),
    ],
    [
      limit(
        'voltage drop',
        drop / (i.allowed * i.supplyVolts),
        section
          ? `take ${section} mm² or a shorter run`
          : 'a higher supply voltage, or the supply nearer to the load',
      ),
      limit(
        'current density',
        i.amps / i.sectionMm2 / DENSITY,
        section ? `take ${section} mm²` : 'divide the current',
      ),
    ],
    'resistivity of annealed copper IEC 60028, 1/58 Ω mm²/m at 20 °C, 0.393 % per kelvin; sizes IEC 60228 and ASTM B258',
    [
      'For low-voltage leads only. Mains conductors are sized by a qualified person to the local code.',
    ],
  )
}
