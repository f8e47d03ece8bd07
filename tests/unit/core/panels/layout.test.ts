import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FORMS, NEW_PANEL } from '../../../../core/design/schema'
import { outputOfKind } from '../../../../core/design/outputs/kinds'
import { panelOf } from '../../../../core/design/find'
import { deviceOf, devices, EDGE_MM, HEAD_MM, MIN_KEY_MM } from '../../../../core/panels/devices'
import {
  comfortable,
  freePlace,
  sizeFor,
  offGlass,
  overlaps,
  smallestSideMm,
  snap,
} from '../../../../core/panels/layout'
import { layOut } from '../../../../core/panels/auto'
import { targetsIn } from '../../../../core/panels/targets'
import { shownLabel, wantLabel } from '../../../../core/panels/words'
import { glazeRoom } from '../../../fixtures/designs'

const box = fc.record({
  xMm: fc.double({ min: -50, max: 200, noNaN: true }),
  yMm: fc.double({ min: -50, max: 200, noNaN: true }),
  widthMm: fc.double({ min: 0, max: 200, noNaN: true }),
  heightMm: fc.double({ min: 0, max: 200, noNaN: true }),
})

describe('geometry of keys', () => {
  it('snap puts any box on the grid, on the glass, below the head; twice is once', () => {
    for (const device of devices()) {
      fc.assert(
        fc.property(box, b => {
          const s = snap(b, device)
          for (const mm of Object.values(s)) expect(mm).toBe(Math.round(mm))
          expect(s.xMm).toBeGreaterThanOrEqual(EDGE_MM)
          expect(s.yMm).toBeGreaterThanOrEqual(HEAD_MM)
          expect(s.xMm + s.widthMm).toBeLessThanOrEqual(device.widthMm - EDGE_MM)
          expect(s.yMm + s.heightMm).toBeLessThanOrEqual(device.heightMm - EDGE_MM)
          expect(snap(s, device)).toEqual(s)
          expect(offGlass(s, device)).toBe(false)
        }),
      )
    }
  })
  it('overlap is symmetric, and agrees with millimetre squares counted one by one', () => {
    const small = fc.record({
      xMm: fc.nat({ max: 8 }),
      yMm: fc.nat({ max: 8 }),
      widthMm: fc.integer({ min: 1, max: 5 }),
      heightMm: fc.integer({ min: 1, max: 5 }),
    })
    const squares = (b: { xMm: number; yMm: number; widthMm: number; heightMm: number }) =>
      Array.from(
        { length: b.widthMm * b.heightMm },
        (_, i) => `${b.xMm + (i % b.widthMm)} ${b.yMm + Math.floor(i / b.widthMm)}`,
      )
    fc.assert(
      fc.property(small, small, (a, b) => {
        const shared = squares(a).some(s => squares(b).includes(s))
        expect(overlaps(a, b)).toBe(shared)
        expect(overlaps(b, a)).toBe(shared)
      }),
    )
  })
  it('free places fill a phone without overlap until it is full', () => {
    const panel = {
      ...panelOf(glazeRoom(), 'apron-phone'),
      keys: [] as ReturnType<typeof panelOf>['keys'],
    }
    const device = deviceOf(panel)
    for (let i = 0; i < 10; i++) {
      const place = freePlace(panel, sizeFor('state', 1))
      expect(panel.keys.some(k => overlaps(k, place))).toBe(false)
      expect(offGlass(place, device)).toBe(false)
      panel.keys.push({
        id: `l${i}`,
        page: 0,
        guard: 'none',
        icon: 'none',
        loadId: `l${i}`,
        form: 'state',
        ...place,
      })
    }
    expect(panel.keys.map(k => k.yMm).slice(0, 4)).toEqual([
      HEAD_MM,
      HEAD_MM,
      HEAD_MM + 20,
      HEAD_MM + 20,
    ])
    expect(offGlass(freePlace(panel, sizeFor('pair', 2)), device)).toBe(false)
  })
  it('the thumb side of a pair is half its width, or its height below the name', () => {
    expect(smallestSideMm({ form: 'pair', widthMm: 21, heightMm: 20 }, 2)).toBe(10)
    expect(smallestSideMm({ form: 'pair', widthMm: 58, heightMm: 14 }, 2)).toBe(8)
    expect(smallestSideMm({ form: 'state', widthMm: 12, heightMm: 8 }, 1)).toBe(8)
    // Seven keys stand in two rows: five across (58 - 4) / 5 = 10.8 mm, rows (34 - 6 - 1) / 2 =
    // 13.5 mm.
    expect(smallestSideMm({ form: 'each', widthMm: 58, heightMm: 34 }, 7)).toBeCloseTo(10.8)
    for (const form of FORMS)
      for (const keys of [1, 2, 3, 5, 7, 11])
        expect(smallestSideMm({ form, ...sizeFor(form, keys) }, keys)).toBeGreaterThan(MIN_KEY_MM)
  })
  it('comfortable makes any key large enough for a thumb', () => {
    fc.assert(
      fc.property(
        box,
        fc.constantFrom(...FORMS),
        fc.integer({ min: 1, max: 21 }),
        (b, form, keys) => {
          const device = deviceOf(NEW_PANEL)
          const key = { form, ...snap(b, device) }
          expect(
            smallestSideMm({ ...key, ...comfortable(key, device, keys) }, keys),
          ).toBeGreaterThanOrEqual(MIN_KEY_MM)
        },
      ),
    )
  })
})

describe('words on keys', () => {
  const switched = glazeRoom().loads[0]!.output
  it.each([
    ['on', 'on'],
    ['off', 'off'],
    ['waiting', 'asked for on'],
    ['stale-on', 'was on'],
    ['stale-off', 'was off'],
    ['unknown', 'not known'],
  ] as const)('%s reads "%s"', (shown, words) =>
    expect(shownLabel(switched, shown, 'on', true)).toBe(words),
  )
  it('without a link, unknown says so', () =>
    expect(shownLabel(switched, 'unknown', null, false)).toBe('no link'))
  it('a level has its unit, a direction its name', () => {
    const level = outputOfKind('level', switched, [])
    expect(shownLabel(level, '50', null, true)).toBe('50 %')
    expect(shownLabel(level, 'stale-50', null, true)).toBe('was 50 %')
    expect(shownLabel(outputOfKind('opposed', switched, []), 'waiting', 'reverse', true)).toBe(
      'asked for reverse',
    )
    expect(wantLabel(level, 'down')).toBe('−')
    expect(wantLabel(outputOfKind('opposed', switched, []), 'forward')).toBe('Forward')
  })
})

describe('a kitchen timer and a reading of the device', () => {
  const panel = panelOf(glazeRoom(), 'apron-phone')
  const countdown = {
    id: 'eggs',
    form: 'countdown' as const,
    minutes: 10,
    page: 0,
    xMm: 3,
    yMm: 20,
    ...sizeFor('countdown'),
  }
  it('has three keys in a row below its name, each as wide as a thumb wants', () => {
    const targets = targetsIn(glazeRoom(), countdown)
    expect(targets.map(t => t.want)).toEqual(['less', 'go', 'more'])
    expect(targets.every(t => t.box.yMm === 26 && t.box.heightMm === 14)).toBe(true)
    // 58 mm without two gaps of 1 mm, in three.
    expect(targets[0]!.box.widthMm).toBeCloseTo(56 / 3, 9)
    expect(smallestSideMm(countdown, 1)).toBe(14)
  })
  it('stay on a panel that is laid out anew', () => {
    const device = { ...countdown, id: 'cell', form: 'device' as const, reads: 'battery' as const }
    const { minutes: _, ...cell } = device
    const layout = layOut(glazeRoom(), { ...panel, parts: [countdown, cell] })
    expect(layout.parts.map(p => p.id)).toEqual(expect.arrayContaining(['eggs', 'cell']))
  })
})
