import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import { linkOf, panelOf, panels } from '../../../../core/design/find'
import { isKey, itemsOf } from '../../../../core/design/items'
import type { Design, PanelItem, PanelSurface } from '../../../../core/design/schema'
import { copied, layOut, refit } from '../../../../core/panels/auto'
import { guardedDangers } from '../../../../core/panels/danger'
import { DANGER_GAP_MM, deviceOf, MIN_KEY_MM } from '../../../../core/panels/devices'
import {
  gapMm,
  isTouched,
  keyCount,
  offGlass,
  overlaps,
  smallestSideMm,
} from '../../../../core/panels/layout'
import { zoneOf } from '../../../../core/panels/reach'
import {
  edited,
  glazeRoom,
  kilnCorridor,
  showroom,
  anySmallDesign,
} from '../../../fixtures/designs'

const laid = (design: Design, panel: PanelSurface) =>
  edited(design, { type: 'setLayout', surfaceId: panel.id, ...layOut(design, panel) })
function inOrder(design: Design, panel: PanelSurface): void {
  const items = itemsOf(panel)
  const glass = deviceOf(panel)
  for (const [i, item] of items.entries()) {
    expect(offGlass(item, glass), item.id).toBe(false)
    if (isTouched(item))
      expect(
        smallestSideMm(
          item,
          isKey(item)
            ? keyCount(design.loads.find(l => l.id === item.loadId)!.output, item.form)
            : 1,
        ),
        item.id,
      ).toBeGreaterThanOrEqual(MIN_KEY_MM)
    for (const other of items.slice(0, i)) {
      if (other.page !== item.page) continue
      expect(overlaps(item, other), `${item.id} over ${other.id}`).toBe(false)
      const danger = (x: PanelItem) =>
        isKey(x) && guardedDangers(design.loads.find(l => l.id === x.loadId)!).length > 0
      if (isTouched(item) && isTouched(other) && (danger(item) || danger(other)))
        expect(gapMm(item, other), `${item.id} and ${other.id}`).toBeGreaterThanOrEqual(
          DANGER_GAP_MM,
        )
    }
  }
}
/** A phone with so many loads; every third of them dangerous. */
function many(n: number, device: PanelSurface['device'], landscape = false): Design {
  let design = edited(
    glazeRoom(),
    { type: 'removeSurface', surfaceId: 'apron-phone' },
    { type: 'setPanel', surfaceId: 'office-browser', patch: { device, landscape } },
  )
  for (let i = design.loads.length; i < n; i++) {
    const loads = [
      ...design.loads,
      {
        ...design.loads[0]!,
        id: `l${i}`,
        name: `Load ${i}`,
        room: `Room ${i % 3}`,
        wiring: { ...design.loads[0]!.wiring, dangers: i % 3 ? [] : ['motion' as const] },
      },
    ]
    const links = design.links.map(l => ({
      ...l,
      messages: [
        ...l.messages,
        { loadId: `l${i}`, ack: true, change: true, codes: { on: `/l${i}/on`, off: `/l${i}/off` } },
      ],
    })) as Design['links']
    design = { ...design, loads, links }
  }
  return design
}

describe('a panel laid out by Nolvi', () => {
  it('has every load, reading and scene of its link once, nothing over another, all large enough, what is dangerous apart', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 4, max: 11 }),
        fc.constantFrom(
          'phone-small' as const,
          'phone-large' as const,
          'tablet' as const,
          'browser' as const,
        ),
        fc.boolean(),
        (n, device, landscape) => {
          const design = many(n, device, landscape)
          const panel = panelOf(laid(design, panelOf(design, 'office-browser')), 'office-browser')
          expect(panel.keys.map(k => k.loadId).sort()).toEqual(
            linkOf(design, panel.linkId)
              .messages.map(m => m.loadId)
              .sort(),
          )
          inOrder(design, panel)
        },
      ),
      { numRuns: 60 },
    )
  })
  it('small designs of every kind of load are laid out in order', () => {
    fc.assert(
      fc.property(anySmallDesign, design => {
        const panel = panels(design)[0]!
        inOrder(design, panelOf(laid(design, panel), panel.id))
      }),
      { numRuns: 120 },
    )
  })
  it('twice is once', () => {
    for (const design of [glazeRoom(), kilnCorridor()]) {
      for (const panel of panels(design)) {
        const once = laid(design, panel)
        expect(layOut(once, panelOf(once, panel.id))).toEqual(layOut(design, panel))
      }
    }
  })
  it('on a phone the loads of the first rows lie in reach of a thumb, what is read lies on top', () => {
    const design = kilnCorridor()
    const panel = panelOf(laid(design, panelOf(design, 'corridor-phone')), 'corridor-phone')
    const [lights] = panel.keys
    expect(lights?.loadId).toBe('corridor-lights')
    expect(
      (['left', 'right'] as const).some(hand => zoneOf(deviceOf(panel), hand, lights!) === 'easy'),
    ).toBe(true)
    expect(panel.parts.find(p => p.id === 'kiln-room')?.yMm).toBeLessThan(lights!.yMm)
  })
  it('what is dangerous gets a guard, and leaves no finding about hands or eyes', () => {
    const design = laid(kilnCorridor(), panelOf(kilnCorridor(), 'corridor-phone'))
    expect(
      panelOf(design, 'corridor-phone')
        .keys.filter(k => k.guard === 'slide')
        .map(k => k.loadId),
    ).toEqual(['roof-vent', 'store-strike'])
    expect(
      check(design).findings.filter(
        f => f.surfaceId === 'corridor-phone' && /^(key|text-cut|theme)/.test(f.code),
      ),
    ).toEqual([])
  })
  it('keeps the forms that were chosen', () => {
    const design = edited(kilnCorridor(), {
      type: 'setKeyForm',
      surfaceId: 'corridor-phone',
      keyId: 'corridor-lights',
      form: 'timer',
    })
    expect(
      layOut(design, panelOf(design, 'corridor-phone')).keys.find(k => k.id === 'corridor-lights'),
    ).toMatchObject({ form: 'timer', heightMm: expect.toSatisfy((mm: number) => mm >= 34) })
  })
})

describe('another glass', () => {
  it.each([
    ['phone-small', true],
    ['phone-large', false],
    ['tablet', true],
    ['own', false],
  ] as const)('%s, on its side %s: everything is still there, in order', (device, landscape) => {
    for (const start of [
      kilnCorridor(),
      laid(many(10, 'browser'), panelOf(many(10, 'browser'), 'office-browser')),
    ]) {
      for (const before of panels(start)) {
        const panel = { ...before, device, landscape }
        const after = refit(start, panel)
        const ids = (p: Pick<PanelSurface, 'keys' | 'parts'>) =>
          itemsOf(p)
            .map(i => i.id)
            .sort()
        expect(ids(after)).toEqual(ids(before))
        inOrder(start, { ...panel, ...after })
      }
    }
  })
  it('a layout goes onto another panel, as far as its link speaks of the same', () => {
    const design = kilnCorridor()
    const made = copied(design, panelOf(design, 'corridor-phone'), panelOf(design, 'office-window'))
    expect(made.keys.map(k => k.loadId)).toEqual(['corridor-lights', 'humidifier', 'roof-vent'])
    expect(made.parts.map(p => p.form).sort()).toEqual(['column', 'readout', 'readout'])
    expect(() =>
      edited(design, { type: 'setLayout', surfaceId: 'office-window', ...made }),
    ).not.toThrow()
    expect(panels(showroom())).toHaveLength(2)
  })
})
