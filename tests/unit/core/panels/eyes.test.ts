import { describe, expect, it } from 'vitest'
import {
  contrast,
  hex,
  luminance,
  mixed,
  rgb,
  seenBy,
  SIGHT_MATRICES,
  SIGHTS,
  themeTroubles,
} from '../../../../core/panels/colour'
import { DEFAULT_THEME } from '../../../../core/design/schema'
import { fits, linesOf, textWidth } from '../../../../core/panels/text-fit'

describe('contrast, as WCAG 2.2 defines it', () => {
  // Values published with the definition and in its techniques: black on white 21, #777 on white
  // 4.48, #767676 4.54.
  it.each([
    ['#000000', '#ffffff', 21],
    ['#777777', '#ffffff', 4.48],
    ['#767676', '#ffffff', 4.54],
    ['#ffffff', '#ffffff', 1],
    ['#0000ff', '#ffffff', 8.59],
    ['#ff0000', '#ffffff', 4.0],
  ])('%s on %s is %d', (a, b, ratio) => {
    expect(contrast(a, b)).toBeCloseTo(ratio, 1)
    expect(contrast(b, a)).toBe(contrast(a, b))
  })
  it('luminance of the primaries are their weights', () =>
    expect(['#ff0000', '#00ff00', '#0000ff'].map(c => Number(luminance(c).toFixed(4)))).toEqual([
      0.2126, 0.7152, 0.0722,
    ]))
  it('mixes as color-mix in srgb does', () =>
    expect([
      mixed('#ffffff', '#000000', 0.5),
      mixed('#24211d', '#fcfaf5', 1),
      hex(rgb('#2b4a6f')),
    ]).toEqual(['#808080', '#24211d', '#2b4a6f']))
  it('the default theme can be read by day and night; a pale ink cannot', () => {
    expect(themeTroubles(DEFAULT_THEME)).toEqual([])
    expect(themeTroubles({ ...DEFAULT_THEME, ink: '#9a9488' }).map(t => [t.look, t.what])).toEqual([
      ['day', 'names on keys'],
      ['day', 'states and second words'],
    ])
    expect(themeTroubles({ ...DEFAULT_THEME, ink: '#9a9488', look: 'night' })).toEqual([])
    // A red that is just light enough on black, but not without red cones.
    expect(
      themeTroubles({ ...DEFAULT_THEME, look: 'day', paper: '#000000', ink: '#ffb0b0' }),
    ).toEqual([])
    expect(
      themeTroubles({ ...DEFAULT_THEME, look: 'day', paper: '#000000', ink: '#ff7c7c' }).map(
        t => t.what,
      ),
    ).toEqual(['states and second words, to eyes without red cones,'])
  })
})

describe('eyes that lack one kind of cone', () => {
  it('greys stay grey: each row of a matrix sums to one', () => {
    for (const sight of SIGHTS) {
      const m = SIGHT_MATRICES[sight]
      for (const row of [0, 3, 6]) expect(m[row]! + m[row + 1]! + m[row + 2]!).toBeCloseTo(1, 5)
      expect(seenBy('#808080', sight)).toBe('#808080')
    }
  })
  it('red and green come together without red or green cones, and stay apart without blue ones', () => {
    const apart = (sight: (typeof SIGHTS)[number]) => {
      const [p, q] = [rgb(seenBy('#bf3f22', sight)), rgb(seenBy('#17705f', sight))]
      // Hue alone: red minus green of each.
      return Math.abs(p[0] - p[1] - (q[0] - q[1]))
    }
    expect(apart('deutan')).toBeLessThan(apart('tritan') / 2)
    expect(apart('protan')).toBeLessThan(apart('tritan') / 2)
  })
})

describe('texts that fit', () => {
  it('widths come from the face: i is narrow, W is wide, bold is wider', () => {
    expect(textWidth('i') * 2).toBeLessThan(textWidth('W'))
    expect(textWidth('Extractor', true)).toBeGreaterThan(textWidth('Extractor'))
    // 'H' 0.694 and 'i' 0.252 of the type size, with room for another face: (0.694 + 0.252) x 1.05.
    expect(textWidth('Hi')).toBeCloseTo(0.9933, 4)
  })
  it('lines break at spaces only', () => {
    expect(linesOf('one two three', 100, 3)).toBe(1)
    expect(linesOf('one two three', 9, 3)).toBe(3)
    expect(linesOf('Unterwassermassage', 9, 3)).toBe(Infinity)
  })
  it('a translation a third longer may not fit where the text does', () => {
    const place = { widthMm: 26, heightMm: 4 }
    expect(fits('Store-room strike', place, 3)).toBe(true)
    expect(fits('Store-room strike', place, 3, { stretch: 1.3 })).toBe(false)
    expect(fits('', place, 3)).toBe(true)
    expect(fits('a', { widthMm: 26, heightMm: 3 }, 3)).toBe(false)
  })
})
