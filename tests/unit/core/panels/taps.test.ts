import { describe, expect, it } from 'vitest'
import { panelOf } from '../../../../core/design/find'
import { deviceOf, WCAG_TARGET_MM } from '../../../../core/panels/devices'
import { gapMm, LOCK_MM } from '../../../../core/panels/layout'
import { NAME_MM } from '../../../../core/panels/forms/facet'
import { EASY_MM, placeInReach, thumbRoot, zoneAt, zoneOf } from '../../../../core/panels/reach'
import { covers, TAP_MODEL, tapStudy } from '../../../../core/panels/taps'
import { targetsOf, type Target } from '../../../../core/panels/targets'
import { edited, glazeRoom, kilnCorridor } from '../../../fixtures/designs'

const target = (
  itemId: string,
  xMm: number,
  yMm: number,
  widthMm: number,
  heightMm: number,
): Target => ({ itemId, want: 'on', box: { xMm, yMm, widthMm, heightMm } })
/** P(|N(0, 1)| < a) by Simpson's rule on the density: an oracle of its own. */
function within(a: number): number {
  const n = 2000
  const f = (x: number) => Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)
  let sum = f(-a) + f(a)
  for (let i = 1; i < n; i++) sum += f(-a + (2 * a * i) / n) * (i % 2 ? 4 : 2)
  return (sum * 2 * a) / n / 3
}

describe('taps with scatter', () => {
  it.each([
    [9.2, 9.2, 2],
    [8, 12, 2],
    [12, 18, 1.5],
    [5, 5, 3],
  ])('a key of %d x %d mm alone, scatter %d mm: hits as the integral says', (w, h, sigma) => {
    const [rates] = tapStudy([target('a', 20, 20, w, h)], {
      ...TAP_MODEL,
      roundMm: 0,
      sigmaMm: sigma,
      taps: 40_000,
    })
    const p = within(w / 2 / sigma) * within(h / 2 / sigma)
    // Five standard errors of a count of 40 000.
    expect(Math.abs(rates!.hit - p)).toBeLessThan(5 * Math.sqrt((p * (1 - p)) / 40_000))
    expect(rates!.hit + rates!.nothing + rates!.other).toBeCloseTo(1, 10)
    expect(rates!.other).toBe(0)
  })
  it('what a neighbour catches is told with its name: half of the miss on its side', () => {
    const [rates] = tapStudy([target('a', 0, 0, 8, 200), target('b', 8, 0, 200, 200)], {
      ...TAP_MODEL,
      roundMm: 0,
      taps: 40_000,
    })
    const beyond = (1 - within(4 / 2)) / 2
    expect(rates!.instead).toEqual({ itemId: 'b', want: 'on' })
    expect(Math.abs(rates!.other - beyond)).toBeLessThan(5 * Math.sqrt(beyond / 40_000))
  })
  it('the same seed gives the same rates, and a further key changes none that it does not touch', () => {
    const two = [target('a', 0, 0, 9, 9), target('b', 30, 0, 9, 9)]
    expect(tapStudy(two, TAP_MODEL)).toEqual(tapStudy(two, TAP_MODEL))
    expect(tapStudy([...two, target('c', 90, 90, 9, 9)], TAP_MODEL).slice(0, 2)).toEqual(
      tapStudy(two, TAP_MODEL),
    )
  })
  it('round corners are no part of a key', () => {
    const key = target('a', 0, 0, 10, 10)
    expect([
      covers(key, 0.2, 0.2, 3),
      covers(key, 5, 0.2, 3),
      covers(key, 0.2, 0.2, 0),
      covers(key, 11, 5, 0),
    ]).toEqual([false, true, true, false])
  })
  it('errors rise steeply below 9 mm, as in the study that the least size is from', () => {
    const miss = (mm: number) =>
      1 - tapStudy([target('a', 0, 0, mm, mm)], { ...TAP_MODEL, taps: 20_000 })[0]!.hit
    expect(miss(11.5)).toBeLessThan(0.02)
    expect(miss(9.2)).toBeLessThan(0.06)
    expect(miss(5.8)).toBeGreaterThan(0.2)
  })
})

describe('targets', () => {
  it('of a pair are its two keys below the name, of a guarded one the keys without the lock', () => {
    const design = glazeRoom()
    const pair = targetsOf(design, panelOf(design, 'apron-phone'), 0).filter(
      t => t.itemId === 'booth-extractor',
    )
    expect(pair.map(t => [t.want, t.box.widthMm, t.box.heightMm])).toEqual([
      ['on', 28.5, 16],
      ['off', 28.5, 16],
    ])
    const kiln = kilnCorridor()
    const vent = targetsOf(kiln, panelOf(kiln, 'office-window'), 0).filter(
      t => t.itemId === 'roof-vent',
    )
    expect(vent.map(t => t.want)).toEqual(['forward', 'stop', 'reverse'])
    const { heightMm } = panelOf(kiln, 'office-window').keys.find(k => k.loadId === 'roof-vent')!
    expect(vent[0]!.box.heightMm).toBe(heightMm - NAME_MM - LOCK_MM)
  })
  it('of a timer are what its link has codes for', () => {
    const design = edited(kilnCorridor(), {
      type: 'setKeyForm',
      surfaceId: 'corridor-phone',
      keyId: 'corridor-lights',
      form: 'timer',
    })
    expect(
      targetsOf(design, panelOf(design, 'corridor-phone'), 0)
        .filter(t => t.itemId === 'corridor-lights')
        .map(t => t.want),
    ).toEqual(['', 'after', 'for', 'off'])
  })
  it('24 CSS pixels are a quarter of an inch', () => expect(WCAG_TARGET_MM).toBeCloseTo(6.35, 10))
})

describe('reach of a thumb', () => {
  const device = deviceOf(panelOf(glazeRoom(), 'apron-phone'))
  it('hands mirror each other', () => {
    for (const [x, y] of [
      [10, 20],
      [32, 70],
      [60, 130],
    ] as const)
      expect(zoneAt(device, 'left', x, y)).toBe(zoneAt(device, 'right', device.widthMm - x, y))
  })
  it('easy within its circle, far at the other upper corner', () => {
    const root = thumbRoot(device, 'right')
    expect(zoneAt(device, 'right', root.xMm - EASY_MM + 1, root.yMm)).toBe('easy')
    expect(zoneAt(device, 'right', root.xMm - EASY_MM - 1, root.yMm)).toBe('stretch')
    expect(zoneAt(device, 'right', 5, 15)).toBe('far')
    expect(
      zoneOf({ ...device, oneHand: false }, 'right', { xMm: 5, yMm: 15, widthMm: 9, heightMm: 9 }),
    ).toBe('easy')
  })
  it('a free place in reach is easy for one hand and keeps its distance', () => {
    const panel = panelOf(glazeRoom(), 'apron-phone')
    const place = placeInReach(panel, panel.keys[0]!)!
    expect((['left', 'right'] as const).some(hand => zoneOf(device, hand, place) === 'easy')).toBe(
      true,
    )
    for (const other of panel.keys.slice(1)) expect(gapMm(other, place)).toBeGreaterThanOrEqual(2)
  })
})
