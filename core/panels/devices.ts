/** Generic device sizes in millimetres of visible glass, and what a hand and an eye need. */
import type { DeviceId, PanelSurface } from '../design/schema'

/** As it is held, in millimetres. */
export interface Glass {
  widthMm: number
  heightMm: number
}
export interface Device extends Glass {
  id: DeviceId
  name: string
  /** Held in one hand and reached by its thumb. */ oneHand: boolean
}

/** Common classes of glass, upright; a browser window is as wide as a small laptop shows it. */
const DEVICES: Record<Exclude<DeviceId, 'own'>, Device> = {
  'phone-small': {
    id: 'phone-small',
    name: 'small phone',
    widthMm: 64,
    heightMm: 139,
    oneHand: true,
  },
  'phone-large': {
    id: 'phone-large',
    name: 'large phone',
    widthMm: 71,
    heightMm: 154,
    oneHand: true,
  },
  tablet: { id: 'tablet', name: 'tablet', widthMm: 135, heightMm: 216, oneHand: false },
  browser: { id: 'browser', name: 'browser window', widthMm: 150, heightMm: 240, oneHand: false },
}

export const GRID_MM = 1
/** Head of the page with name, pages and connection line. */
export const HEAD_MM = 13
export const EDGE_MM = 3
/**
 * Smallest side of a key for a thumb, mm. 9.2 mm is the smallest target without a rise in errors
 * for one-handed thumb use (Parhi, Karlson, Bederson: Target size study for one-handed thumb use on
 * small touchscreen devices, 2006).
 */
export const MIN_KEY_MM = 9.2
/**
 * 24 CSS pixels of a 96th of an inch: what WCAG 2.2, 2.5.8 Target Size (Minimum), asks of a target
 * or of its spacing.
 */
export const WCAG_TARGET_MM = (24 * 25.4) / 96
/**
 * What could hurt somebody stands at least this far from its neighbours: about half a fingertip
 * (docs/panels.md).
 */
export const DANGER_GAP_MM = 5
/** Room between keys that are laid out by Nolvi. */
export const GAP_MM = 2

/** A device as it stands in the design, turned as it is held. */
export function deviceOf(panel: Pick<PanelSurface, 'device' | 'landscape' | 'ownMm'>): Device {
  const upright =
    panel.device === 'own'
      ? {
          id: panel.device,
          name: 'own size',
          ...panel.ownMm,
          oneHand: Math.min(panel.ownMm.widthMm, panel.ownMm.heightMm) < 85,
        }
      : DEVICES[panel.device]
  // On its side it is held in both hands.
  return panel.landscape
    ? { ...upright, widthMm: upright.heightMm, heightMm: upright.widthMm, oneHand: false }
    : upright
}

/** All devices that panels are laid out for. */
export function devices(): Device[] {
  return Object.values(DEVICES)
}
