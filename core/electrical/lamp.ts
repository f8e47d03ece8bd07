/** A light-emitting diode on a pin, and its resistor. */
import { preferredAbove } from '../units/e-series'

/** Forward voltage and current of a small indicator, V and A: bright enough on a bench. */
const LAMP_VOLTS = 2
const LAMP_AMPS = 0.005

/** The resistor of an indicator at the level of a pin, V: E24 at or above (V - Vf) / I, Ω. */
export function lampOhms(logicVolts: number): number {
  return preferredAbove(Math.max(1, (logicVolts - LAMP_VOLTS) / LAMP_AMPS))
}

/** Current of an indicator with that resistor, A. */
export function lampAmps(logicVolts: number): number {
  return Math.max(0, logicVolts - LAMP_VOLTS) / lampOhms(logicVolts)
}
