/**
 * A relay contact against the load it switches. The printed rating is for a resistive load; other
 * loads draw a multiple of their current when switched on or keep an arc burning when switched off.
 */
import { figure, inRange, limit, range, sum, type Ranges, type Sum } from './sum'

export type LoadType = 'resistive' | 'motor' | 'led-driver' | 'tungsten' | 'solenoid'
/** Part of the resistive rating that is used at most, and inrush over running current. */
export const LOAD_TYPES: Record<LoadType, { name: string; use: number; inrush: number }> = {
  resistive: { name: 'heater or other resistive load', use: 0.75, inrush: 1 },
  motor: { name: 'motor', use: 0.2, inrush: 6 },
  'led-driver': { name: 'LED driver', use: 0.1, inrush: 20 },
  tungsten: { name: 'tungsten lamp', use: 0.1, inrush: 12 },
  solenoid: { name: 'solenoid or other coil', use: 0.4, inrush: 1.5 },
}

export interface ContactInputs {
  loadAmps: number
  ratedAmps: number
  ratedInrushAmps: number
}

export const CONTACT_RANGES: Ranges<ContactInputs> = {
  loadAmps: range('Load current', 'A', 1e-3, 100),
  ratedAmps: range('Contact rating', 'A', 0.1, 200),
  ratedInrushAmps: range('Contact inrush rating', 'A', 0.1, 2000),
}

/** `mains` adds the caution that belongs to it. */
export function contact(given: ContactInputs, type: LoadType, mains = false): Sum {
  const i = inRange(given, CONTACT_RANGES)
  const { name, use, inrush } = LOAD_TYPES[type]
  return sum(
    [
      figure('Iu', 'used at most', i.ratedAmps * use, 'A', `rating x ${use} for a ${name}`),
      figure('Ii', 'inrush', i.loadAmps * inrush, 'A', `load current x ${inrush} for a ${name}`),
    ],
    [
      limit(
        'running current',
        i.loadAmps / (i.ratedAmps * use),
        'a relay or contactor rated for this kind of load',
      ),
      limit(
        'inrush',
        (i.loadAmps * inrush) / i.ratedInrushAmps,
        'a contact with a higher inrush rating, an inrush limiter, or switching at the zero crossing',
      ),
    ],
    'derating customary in reliability handbooks (resistive 75 %, inductive 40 %, motor 20 %, filament 10 %); LED drivers as filament with higher inrush; a data sheet that states the load kind comes first',
    mains ? ['Mains wiring, fusing and enclosure: by a qualified person to the local code.'] : [],
  )
}
