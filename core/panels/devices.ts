/** Generic device sizes, portrait, in millimetres of visible glass, and the grid on which keys are placed. */
import type { PanelSurface } from '../design/schema'

export interface Device { id: PanelSurface['device'], name: string, widthMm: number, heightMm: number }

/** Two common classes of phone glass; own sizes come with the full layout work. */
const DEVICES: Record<PanelSurface['device'], Device> = {
  'phone-small': { id: 'phone-small', name: 'small phone', widthMm: 64, heightMm: 139 },
  'phone-large': { id: 'phone-large', name: 'large phone', widthMm: 71, heightMm: 154 },
}

export const GRID_MM = 1
/** Head of the page with name and connection line. */
export const HEAD_MM = 13
export const EDGE_MM = 3
/**
 * Smallest side of a key for a thumb, mm. 9.2 mm is the smallest target without a rise in errors for one-handed thumb
 * use (Parhi, Karlson, Bederson: Target size study for one-handed thumb use on small touchscreen devices, 2006).
 */
export const MIN_KEY_MM = 9.2

export function deviceOf(id: PanelSurface['device']): Device {
  return DEVICES[id]
}

export function devices(): Device[] {
  return Object.values(DEVICES)
}
