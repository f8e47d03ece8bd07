/** Icons on keys: which one, drawn how, and with what room. */
import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { applyEdit } from '../../../../core/design/edits/edits'
import { panelOf } from '../../../../core/design/find'
import { ICONS, type IconChoice } from '../../../../core/design/icon-names'
import { chosenIcon, iconOf } from '../../../../core/design/icons'
import type { Danger, Design, Output, Wiring } from '../../../../core/design/schema'
import { firstKey } from '../../../../core/panels/layout'
import { drawnOnce, iconSvg } from '../../../../core/sides/icons'
import { itemMarkup } from '../../../../core/sides/panel-markup'
import { panelPage } from '../../../../core/sides/panel-page'
import { edited, fanDesign } from '../../../fixtures/designs'

const DRAWING =
  /^<svg class="np-icon" viewBox="0 0 24 24" aria-hidden="true">(<(path|circle|rect|line|polyline|polygon|ellipse)( [a-z0-9-]+="[^"<>&]*")+\/>)+<\/svg>$/

function withIcon(icon: IconChoice, name = 'Fan'): Design {
  return edited(
    fanDesign(),
    { type: 'renameLoad', loadId: 'fan', name },
    { type: 'setItem', surfaceId: 'phone', keyId: 'fan', patch: { icon } },
  )
}

describe('icons', () => {
  it.each(ICONS)('%s is a drawing of lines', name => {
    const svg = iconSvg(name)
    expect(svg).toMatch(DRAWING)
    expect(svg.length).toBeLessThan(1200)
  })
  it('are all different', () => expect(new Set(ICONS.map(iconSvg)).size).toBe(ICONS.length))
  it('go by what is switched, then by danger, then by how it is driven', () => {
    const design = fanDesign()
    const [fan] = design.loads
    const load = (kind: Output['kind'], type: string | null, ...dangers: Danger[]) => {
      const changed = edited(design, { type: 'setKind', loadId: 'fan', kind }).loads[0]!
      const what = type === null ? null : { type, volts: 12, amps: 1, mains: false }
      return { ...changed, wiring: { ...changed.wiring, load: what as Wiring['load'], dangers } }
    }
    expect(iconOf(fan!)).toBe('power')
    expect(
      [
        load('switched', 'motor'),
        load('switched', 'motor', 'heat'),
        load('switched', 'led-driver'),
        load('level', 'tungsten'),
        load('level', null),
        load('pulsed', 'solenoid'),
        load('pulsed', null),
        load('held', null),
        load('held', null, 'gas'),
        load('opposed', 'motor', 'motion'),
        load('follower', null),
        load('switched', null, 'water'),
        load('switched', 'resistive', 'lock'),
      ].map(iconOf),
    ).toEqual([
      'fan',
      'flame',
      'lightbulb',
      'lightbulb',
      'sun-dim',
      'lock',
      'bell',
      'hand',
      'flame',
      'arrow-up-down',
      'gauge',
      'droplets',
      'lock',
    ])
    expect((['none', 'auto', 'bed'] as const).map(c => chosenIcon(c, fan!))).toEqual([
      null,
      'power',
      'bed',
    ])
  })
  it('stand beside the name in the page, and a page without them has nothing of them', () => {
    const plain = panelPage(withIcon('none'), 'phone')
    expect(plain).not.toContain('np-icon')
    const page = panelPage(withIcon('bed'), 'phone')
    expect(page).toContain(`${iconSvg('bed')}Fan</span>`)
    expect(page).toContain('.np-icon{')
    const key = panelOf(withIcon('auto'), 'phone').keys[0]!
    expect(itemMarkup(withIcon('auto'), key).inner).toContain(iconSvg('power'))
  })
  it('that stand there several times are drawn once and used again', () => {
    const [a, b] = [iconSvg('fan'), iconSvg('bed')]
    const page = drawnOnce(`<p>${a}x${b}y${a}z${a}</p>`)
    expect(page.split('M10.827')).toHaveLength(2)
    expect(page.match(/<use href="#np-i-fan"\/>/g)).toHaveLength(2)
    expect(page).toContain(b)
    expect(page.indexOf('id="np-i-fan"')).toBeLessThan(page.indexOf('<use'))
    expect(drawnOnce(`${a}${b}`)).toBe(a + b)
  })
  it('take room from the name: what fitted just so is told not to fit', () => {
    const tight = (icon: IconChoice) =>
      check(
        edited(withIcon(icon, 'Extractor fans'), {
          type: 'moveKey',
          surfaceId: 'phone',
          keyId: 'fan',
          box: { widthMm: 28, heightMm: 12 },
        }),
      ).findings.filter(f => f.code === 'text-cut').length
    expect([tight('none'), tight('bed')]).toEqual([0, 1])
  })
  it('new keys have the one of their kind; others are refused with their place', () => {
    const design = fanDesign()
    expect(firstKey(panelOf(design, 'phone'), design.loads[0]!).icon).toBe('auto')
    expect(
      applyEdit(design, {
        type: 'setItem',
        surfaceId: 'phone',
        keyId: 'fan',
        patch: { icon: 'unicorn' as IconChoice },
      }),
    ).toMatchObject({ ok: false, problems: [{ path: '/surfaces/1/keys/0/icon' }] })
  })
})
