/** A divider that brings a voltage down to an analog input, at the worst of its tolerances. */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export interface DividerInputs {
  inputMaxVolts: number
  upperOhms: number
  lowerOhms: number
  /** 0.01 = 1 %. */
  tolerance: number
  pinMaxVolts: number
  referenceVolts: number
  bits: number
  /** Largest source resistance that the converter takes without sampling error. */
  sourceMaxOhms: number
}
export const DIVIDER_DEFAULTS = { tolerance: 0.05, bits: 10, sourceMaxOhms: 10_000 } as const

export const DIVIDER_RANGES: Ranges<DividerInputs> = {
  inputMaxVolts: range('Highest input', 'V', 0.1, 1000),
  upperOhms: range('Upper resistor', 'Ω', 10, 1e8),
  lowerOhms: range('Lower resistor', 'Ω', 10, 1e8),
  tolerance: range('Tolerance', '', 0, 0.3),
  pinMaxVolts: range('Pin limit', 'V', 0.5, 6),
  referenceVolts: range('Reference', 'V', 0.5, 6),
  bits: range('Bits', '', 6, 24),
  sourceMaxOhms: range('Source resistance allowed', 'Ω', 100, 1e7),
}

/** A voltage divider at a pin, with its tolerances. Throws `BadInput` out of range. */
export function divider(given: DividerInputs): Sum {
  const i = inRange(given, DIVIDER_RANGES)
  const ratio = (upper: number, lower: number) => lower / (upper + lower)
  const out = i.inputMaxVolts * ratio(i.upperOhms, i.lowerOhms)
  const worst =
    i.inputMaxVolts * ratio(i.upperOhms * (1 - i.tolerance), i.lowerOhms * (1 + i.tolerance))
  const source = (i.upperOhms * i.lowerOhms) / (i.upperOhms + i.lowerOhms)
  const step = i.referenceVolts / 2 ** i.bits / ratio(i.upperOhms, i.lowerOhms)
  return sum(
    [
      figure('Vo', 'at the pin', out, 'V', 'Vi x R2 / (R1 + R2)'),
      figure(
        'Vw',
        'at the pin, resistors at their worst',
        worst,
        'V',
        'Vi x R2(1+t) / (R1(1-t) + R2(1+t))',
      ),
      figure('Rs', 'source resistance', source, 'Ω', 'R1 x R2 / (R1 + R2)'),
      figure(
        'I',
        'current through the divider',
        i.inputMaxVolts / (i.upperOhms + i.lowerOhms),
        'A',
        'Vi / (R1 + R2)',
      ),
      figure(
        'd',
        'one step of the converter, at the input',
        step,
        'V',
        'reference / 2^bits x (R1 + R2) / R2',
      ),
    ],
    [
      limit(
        'pin voltage at the worst',
        worst / i.pinMaxVolts,
        'a larger upper or a smaller lower resistor',
      ),
      limit(
        'reading stays below full scale',
        worst / i.referenceVolts,
        'a larger upper or a smaller lower resistor, or a higher reference',
      ),
      limit(
        'source resistance',
        source / i.sourceMaxOhms,
        'smaller resistors, or a capacitor of 100 nF at the pin',
      ),
    ],
    'voltage divider with tolerances, as in electronics textbooks; converter input as in data sheets of 8-bit boards (10 kΩ)',
  )
}
