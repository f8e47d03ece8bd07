/** A panel laid out by Nolvi uses its room: on every glass, for kits, demo, and few loads. */
import { describe, expect, it } from 'vitest'
import { demoDesigns } from '../../../../demo/demo'
import { check } from '../../../../core/checks/check'
import { linkOf, panels } from '../../../../core/design/find'
import { isKey, itemsOf } from '../../../../core/design/items'
import { partOf } from '../../../../core/design/part'
import type { Design, PanelSurface } from '../../../../core/design/schema'
import { layOut } from '../../../../core/panels/auto'
import { DANGER_GAP_MM, deviceOf, EDGE_MM, GAP_MM, HEAD_MM } from '../../../../core/panels/devices'
import { isTouched } from '../../../../core/panels/layout'
import { begin } from '../../../../core/start/begin'
import { drawerLoad, firstDrawer } from '../../../../core/start/drawer'
import { KIT_IDS } from '../../../../core/start/kit-names'
import { fromKit } from '../../../../core/start/kits'
import { edited } from '../../../fixtures/designs'

const GLASSES: Partial<PanelSurface>[] = [
  { device: 'phone-small' },
  { device: 'phone-large' },
  { device: 'tablet' },
  { device: 'browser' },
  { device: 'own', ownMm: { widthMm: 90, heightMm: 160 } },
]
function laid(design: Design, panel: PanelSurface, glass: Partial<PanelSurface>) {
  const set = edited(design, { type: 'setPanel', surfaceId: panel.id, patch: glass })
  const part = partOf(set, linkOf(set, panel.linkId).controllerId)
  const now = panels(set).find(p => p.id === panel.id)!
  return edited(set, { type: 'setLayout', surfaceId: panel.id, ...layOut(part, now) })
}
const DESIGNS: [string, Design][] = [
  ...demoDesigns().map((d): [string, Design] => [d.name, d]),
  ...KIT_IDS.map((id): [string, Design] => [id, fromKit('x', id).design]),
  ...[1, 2, 3, 5, 6].map((n): [string, Design] => [
    `${n} lamps`,
    begin('x', {
      ...firstDrawer(),
      loads: Array.from({ length: n }, () => drawerLoad('lamp')),
    }).design,
  ]),
]

/**
 * What is more than a phone holds: seven things of which two have guards and one is a tank; ten
 * loads with scenes and readings.
 */
const MOST_PAGES: Record<string, Record<string, number>> = {
  'Kiln corridor': { 'phone-small': 2, 'phone-large': 2, own: 2 },
  'Old dairy': { 'phone-small': 3, 'phone-large': 3, own: 2 },
}

describe('a panel laid out by Nolvi, on five glasses', () => {
  for (const [name, design] of DESIGNS)
    it(`${name}: one page, from its head to its foot, without a finding of hands or eyes`, () => {
      for (const panel of panels(design))
        for (const glass of GLASSES) {
          const done = laid(design, panel, glass)
          const now = panels(done).find(p => p.id === panel.id)!
          const where = `${panel.name} on ${now.device}`
          const most = MOST_PAGES[name]?.[now.device] ?? 1
          expect(now.pages.length, where).toBeLessThanOrEqual(most)
          if (now.pages.length > 1) continue
          const items = itemsOf(now)
          if (!items.some(isTouched)) continue
          const { heightMm, widthMm } = deviceOf(now)
          const foot = Math.max(...items.map(i => i.yMm + i.heightMm))
          const right = Math.max(...items.map(i => i.xMm + i.widthMm))
          // Below what is dangerous its distance stays free.
          expect(heightMm - EDGE_MM - foot, where).toBeLessThanOrEqual(DANGER_GAP_MM - GAP_MM)
          expect(widthMm - EDGE_MM - right, where).toBeLessThanOrEqual(1)
          expect(Math.min(...items.map(i => i.yMm)), where).toBeLessThanOrEqual(HEAD_MM + 3)
          // No row of the glass is empty for more than the gap around what is dangerous.
          for (let y = HEAD_MM + 3; y < heightMm - EDGE_MM; y += 1) {
            const near = items.some(i => i.yMm <= y + 6 && i.yMm + i.heightMm >= y - 6)
            expect(near, `${where}, ${y} mm down`).toBe(true)
          }
          const found = check(done)
            .findings.filter(f => f.surfaceId === panel.id && /^(key|text-cut|theme)/.test(f.code))
            .map(f => f.title)
          expect(found, where).toEqual([])
        }
    })

  it('few loads get large keys: one fills the phone, four share it', () => {
    const areas = [1, 2, 4].map(n => {
      const { design } = begin('x', {
        ...firstDrawer(),
        ways: ['phone'],
        loads: Array.from({ length: n }, () => drawerLoad('lamp')),
      })
      const keys = itemsOf(panels(design)[0]!).filter(isKey)
      return keys.map(k => k.widthMm * k.heightMm)
    })
    expect(areas[0]![0]).toBeGreaterThan(58 * 100)
    for (const [i, n] of [1, 2, 4].entries())
      for (const area of areas[i]!) expect(area).toBeGreaterThan((58 * 100) / n)
  })
})
