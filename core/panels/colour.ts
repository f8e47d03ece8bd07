/** Contrast of colours, and how they look to eyes that lack one kind of cone. */
import type { Theme } from '../design/schema'

type Rgb = readonly [number, number, number]

/** Least contrast of text (WCAG 2.2, 1.4.3). */
export const TEXT_CONTRAST = 4.5

/** "#24211d" as parts of one, as stored (gamma-coded). */
export function rgb(hex: string): Rgb {
  return [1, 3, 5].map(at => parseInt(hex.slice(at, at + 2), 16) / 255) as unknown as Rgb
}

/** A colour of parts from 0 to 1 as #rrggbb; what lies beyond is cut off. */
export function hex(colour: Rgb): string {
  return `#${colour
    .map(c =>
      Math.round(Math.max(0, Math.min(1, c)) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}

/** sRGB to linear light (IEC 61966-2-1, with the threshold that WCAG writes as 0.04045). */
function linear(c: number): number {
  return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
}

function coded(c: number): number {
  return c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055
}

/** Relative luminance (WCAG 2.2). */
export function luminance(colour: string): number {
  const [r, g, b] = rgb(colour).map(linear) as unknown as Rgb
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

/** 1 to 21 (WCAG 2.2). */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

/** `share` of the first in the second, as `color-mix(in srgb, ...)` mixes. */
export function mixed(a: string, b: string, share: number): string {
  const q = rgb(b)
  return hex(rgb(a).map((c, i) => c * share + (q[i] as number) * (1 - share)) as unknown as Rgb)
}

export const SIGHTS = ['protan', 'deutan', 'tritan'] as const
export type Sight = (typeof SIGHTS)[number]
export const SIGHT_WORDS: Record<Sight, string> = {
  protan: 'without red cones',
  deutan: 'without green cones',
  tritan: 'without blue cones',
}
/**
 * On linear RGB, severity 1 (Machado, Oliveira, Fernandes: A physiologically-based model for
 * simulation of color vision deficiency, 2009).
 */
export const SIGHT_MATRICES: Record<Sight, readonly number[]> = {
  protan: [
    0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998,
  ],
  deutan: [
    0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881,
  ],
  tritan: [
    1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039,
  ],
}

/** A colour as eyes see it that lack a kind of cone. */
export function seenBy(colour: string, sight: Sight): string {
  const m = SIGHT_MATRICES[sight]
  const l = rgb(colour).map(linear)
  return hex(
    [0, 3, 6].map(row =>
      coded(
        Math.max(
          0,
          Math.min(
            1,
            l.reduce((sum, c, i) => sum + c * (m[row + i] as number), 0),
          ),
        ),
      ),
    ) as unknown as Rgb,
  )
}

/**
 * How much of the ink second words and rules take; the style of the page mixes them the same way.
 */
export const SECOND_SHARE = 0.72

export interface ThemeTrouble {
  look: 'day' | 'night'
  what: string
  contrast: number
  least: number
}

/** What of a theme cannot be told apart. */
export function themeTroubles(theme: Theme): ThemeTrouble[] {
  const looks = theme.look === 'auto' ? (['day', 'night'] as const) : [theme.look]
  return looks.flatMap(look => {
    const [paper, ink] =
      look === 'day' ? [theme.paper, theme.ink] : [theme.nightPaper, theme.nightInk]
    const second = mixed(ink, paper, SECOND_SHARE)
    const usual = [
      { what: 'names on keys', colour: ink },
      { what: 'states and second words', colour: second },
    ].map(x => ({ look, what: x.what, contrast: contrast(x.colour, paper), least: TEXT_CONTRAST }))
    // Red on black, say, is darker still to eyes without red cones.
    const others = SIGHTS.map(sight => ({
      look,
      what: `states and second words, to eyes ${SIGHT_WORDS[sight]},`,
      contrast: contrast(seenBy(second, sight), seenBy(paper, sight)),
      least: TEXT_CONTRAST,
    }))
    const troubled = usual.filter(x => x.contrast < x.least)
    return troubled.length ? troubled : others.filter(x => x.contrast < x.least).slice(0, 1)
  })
}
