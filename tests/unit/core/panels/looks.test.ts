/** Looks: every one can be read by day and by night, on its ground and on what is on. */
import { describe, expect, it } from 'vitest'
import { DEFAULT_THEME } from '../../../../core/design/schema'
import { contrast, TEXT_CONTRAST } from '../../../../core/panels/colour'
import { litOf, lookOf, LOOKS } from '../../../../core/panels/looks'
import { itemMarkup, themeProperties } from '../../../../core/sides/panel-markup'
import { panelPage } from '../../../../core/sides/panel-page'
import { panels } from '../../../../core/design/find'
import { edited, glazeRoom } from '../../../fixtures/designs'

describe('looks', () => {
  it('there are four at least, and the first is that of a new panel', () => {
    expect(LOOKS.length).toBeGreaterThanOrEqual(4)
    expect(lookOf(DEFAULT_THEME)?.name).toBe('paper')
  })
  for (const { name, colours, lit } of LOOKS)
    it(`${name}: read by day and by night, on and off, and what is on stands out`, () => {
      for (const [ground, ink, on] of [
        [colours.paper, colours.ink, lit.day],
        [colours.nightPaper, colours.nightInk, lit.night],
      ] as const) {
        expect(contrast(ground, ink)).toBeGreaterThanOrEqual(7)
        // The words on a key that is on have the colour of the ground.
        expect(contrast(on, ground)).toBeGreaterThanOrEqual(TEXT_CONTRAST)
      }
    })
  it('colours of one’s own have no third one', () => {
    const own = { ...DEFAULT_THEME, ink: '#123456' }
    expect(lookOf(own)).toBeUndefined()
    expect(litOf(own, false)).toBe('#123456')
    expect(themeProperties({ ...DEFAULT_THEME }, true)['--lit']).toBe('#dca845')
  })
})

describe('rooms', () => {
  const marks = (rooms: string[]) => {
    const design = rooms.reduce(
      (d, room, i) => edited(d, { type: 'setRoom', loadId: d.loads[i]!.id, room }),
      glazeRoom(),
    )
    const panel = panels(design)[0]!
    return {
      marks: panel.keys.map(k => itemMarkup(design, k).attributes['data-room'] ?? null),
      page: panelPage(design, panel.id),
    }
  }
  it('are told apart by an edge from the second one on', () => {
    expect(new Set(marks(['Hall', 'Hall', 'Hall', 'Hall']).marks)).toEqual(new Set([null]))
    const two = marks(['Hall', 'Yard', 'Hall', 'Yard'])
    expect(new Set(two.marks)).toEqual(new Set(['0', '1']))
    expect(two.page).toContain('--room:var(--r1)')
    expect(marks(['', '', '', '']).page).not.toContain('--room')
  })
})
