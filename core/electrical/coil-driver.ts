/** Base resistor of an NPN transistor that switches a relay coil to ground. */
import { preferredBelow, SERIES_TOLERANCE, type Series } from '../units/e-series'
import { showQuantity } from '../units/quantity'
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface CoilDriverInputs {
  supplyVolts: number
  coilOhms: number
  /** High level of the pin under load. */
  pinVolts: number
  pinMaxAmps: number
  /** Smallest current gain of the transistor at the coil current, from its data sheet. */
  gainMin: number
  transistorMaxAmps: number
  /**
   * Collector current over base current in saturation; 10 is what data sheets use for their
   * saturation voltage.
   */
  forcedBeta: number
  baseEmitterVolts: number
}
export const COIL_DRIVER_DEFAULTS = { forcedBeta: 10, baseEmitterVolts: 0.7 } as const

export const COIL_DRIVER_RANGES: Ranges<CoilDriverInputs> = {
  supplyVolts: range('Coil supply', 'V', 1, 60),
  coilOhms: range('Coil resistance', 'Ω', 1, 100_000),
  pinVolts: range('Pin high level', 'V', 1, 60),
  pinMaxAmps: range('Pin limit', 'A', 1e-4, 0.2),
  gainMin: range('Smallest gain', '', 5, 5000),
  transistorMaxAmps: range('Transistor limit', 'A', 0.01, 50),
  forcedBeta: range('Forced beta', '', 2, 100),
  baseEmitterVolts: range('Base-emitter voltage', 'V', 0.4, 2.5),
}

/**
 * The transistor that drives a coil, and its base resistor. `ownOhms`: one that is there already,
 * which is checked instead of chosen; 0 = none. Throws `BadInput` out of range.
 */
export function coilDriver(
  given: CoilDriverInputs,
  series: Series = 'E24',
  ownOhms: number = 0,
): Sum {
  const i = inRange(given, COIL_DRIVER_RANGES)
  const coil = i.supplyVolts / i.coilOhms
  const base = coil / i.forcedBeta
  const ideal = Math.max(1e-3, i.pinVolts - i.baseEmitterVolts) / base
  const resistor = ownOhms || preferredBelow(ideal, series)
  const actual = (i.pinVolts - i.baseEmitterVolts) / resistor
  // Worst for the pin: a resistor at the low end of its tolerance.
  const worstPin = actual / (1 - SERIES_TOLERANCE[series])
  const worstBase = actual / (1 + SERIES_TOLERANCE[series])
  return sum(
    [
      figure('Ic', 'coil current', coil, 'A', 'supply / coil resistance'),
      figure('Ib', 'base current wanted', base, 'A', 'Ic / forced beta'),
      figure('R', 'base resistor, exact', ideal, 'Ω', '(pin - Vbe) / Ib'),
      ownOhms
        ? figure('Rb', 'base resistor that is there', resistor, 'Ω', 'as stated')
        : figure(
            'Rb',
            `base resistor, next lower ${series} value`,
            resistor,
            'Ω',
            `${series} at or below R`,
          ),
      figure('Ip', 'pin current with it', actual, 'A', '(pin - Vbe) / Rb'),
      figure('P', 'heat in the base resistor', actual ** 2 * resistor, 'W', 'Ip² x Rb'),
    ],
    [
      limit(
        'pin current, resistor at its lowest',
        worstPin / i.pinMaxAmps,
        ownOhms
          ? `take a larger base resistor, ${showQuantity(preferredBelow(ideal, series), 'Ω')} or more`
          : 'take a transistor of higher gain, a MOSFET, or a larger forced beta',
      ),
      limit('transistor current', coil / i.transistorMaxAmps, 'take a transistor for more current'),
      limit(
        'saturation, resistor at its highest',
        coil / (worstBase * i.gainMin),
        'take a smaller base resistor or a transistor of higher gain',
      ),
      limit(
        'pin above base-emitter voltage',
        i.baseEmitterVolts / i.pinVolts,
        'the pin is too low to open this transistor',
      ),
    ],
    'saturated switch with forced beta, as in electronics textbooks and transistor data sheets (VCE(sat) at IC/IB = 10); values IEC 60063',
  )
}

export interface CoilVoltageInputs {
  feedVolts: number
  coilVolts: number
}
export const COIL_VOLTAGE_RANGES: Ranges<CoilVoltageInputs> = {
  feedVolts: range('Feed', 'V', 0.5, 60),
  coilVolts: range('Coil', 'V', 0.5, 1000),
}

/** A coil against what feeds it. Throws `BadInput` out of range. */
export function coilVoltage(given: CoilVoltageInputs): Sum {
  const i = inRange(given, COIL_VOLTAGE_RANGES)
  return sum(
    [figure('u', 'feed over coil voltage', i.feedVolts / i.coilVolts, '×', 'feed / coil')],
    [
      limit(
        'not more than 1.1 times',
        i.feedVolts / (1.1 * i.coilVolts),
        'feed it from a lower voltage, or take a coil for this one',
      ),
      limit(
        'not less than 0.8 times',
        (0.8 * i.coilVolts) / i.feedVolts,
        'feed it from a higher voltage, or take a coil for this one',
      ),
    ],
    'operative range of coils, class 1 of IEC 61810-1: 80 % to 110 % of the rated voltage',
  )
}
