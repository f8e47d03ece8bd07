/**
 * Looks of panels: ground, ink, and what is on, by day and by night. A theme that has the colours
 * of a look has its third colour too; with colours of one's own, what is on is inked.
 */
import type { Theme } from '../design/schema'

type Colours = Pick<Theme, 'paper' | 'ink' | 'nightPaper' | 'nightInk'>
export interface Look {
  name: string
  colours: Colours
  /** The ground of a key whose load is on; what stands on it has the colour of the ground. */
  lit: { day: string; night: string }
}

/** Of our own, by the place they are made for. */
export const LOOKS: readonly Look[] = [
  {
    name: 'paper',
    colours: { paper: '#fcfaf5', ink: '#24211d', nightPaper: '#262320', nightInk: '#f0eadd' },
    lit: { day: '#24211d', night: '#dca845' },
  },
  {
    name: 'celadon',
    colours: { paper: '#eaf1ea', ink: '#1c2b25', nightPaper: '#18231f', nightInk: '#d6e6da' },
    lit: { day: '#17705f', night: '#7fcbb3' },
  },
  {
    name: 'iron red',
    colours: { paper: '#faeee6', ink: '#43180f', nightPaper: '#2b1712', nightInk: '#f6ddd0' },
    lit: { day: '#96341f', night: '#f0a284' },
  },
  {
    name: 'cobalt',
    colours: { paper: '#eef1f6', ink: '#182a45', nightPaper: '#152033', nightInk: '#d9e4f4' },
    lit: { day: '#234f94', night: '#9fc2ea' },
  },
  {
    name: 'bright sun',
    colours: { paper: '#ffffff', ink: '#000000', nightPaper: '#000000', nightInk: '#ffffff' },
    lit: { day: '#000000', night: '#ffffff' },
  },
]

const KEYS = ['paper', 'ink', 'nightPaper', 'nightInk'] as const

/** The look whose colours a theme has; undefined where it has its own. */
export function lookOf(theme: Colours): Look | undefined {
  return LOOKS.find(({ colours }) => KEYS.every(k => colours[k] === theme[k].toLowerCase()))
}

/** The ground of what is on, #rrggbb. */
export function litOf(theme: Colours, night: boolean): string {
  const own = night ? theme.nightInk : theme.ink
  return lookOf(theme)?.lit[night ? 'night' : 'day'] ?? own
}
