import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { aligned, attracted, distributed, shifted } from '../../../../core/panels/arrange'
import { EDGE_MM, HEAD_MM } from '../../../../core/panels/devices'
import { offGlass, type Box } from '../../../../core/panels/layout'

const glass = { widthMm: 64, heightMm: 139 }
const box = (xMm: number, yMm: number, widthMm = 10, heightMm = 10): Box => ({
  xMm,
  yMm,
  widthMm,
  heightMm,
})
const boxes = fc.array(
  fc.record({
    xMm: fc.integer({ min: 3, max: 40 }),
    yMm: fc.integer({ min: 13, max: 100 }),
    widthMm: fc.integer({ min: 5, max: 20 }),
    heightMm: fc.integer({ min: 5, max: 20 }),
  }),
  { minLength: 2, maxLength: 6 },
)

describe('aligned', () => {
  const two = [box(5, 20, 10, 10), box(30, 50, 20, 6)]
  it.each([
    ['left', [5, 5], [20, 50]],
    ['right', [40, 30], [20, 50]],
    ['centre', [23, 18], [20, 50]],
    ['top', [5, 30], [20, 20]],
    ['bottom', [5, 30], [46, 50]],
    ['middle', [5, 30], [33, 35]],
  ] as const)('%s', (side, xs, ys) => {
    const moved = aligned(two, side)
    expect([moved.map(b => b.xMm), moved.map(b => b.yMm)]).toEqual([xs, ys])
  })
  it('changes no size, and twice is once', () => {
    fc.assert(
      fc.property(
        boxes,
        fc.constantFrom('left', 'right', 'top', 'bottom' as const),
        (list, side) => {
          const once = aligned(list, side as 'left')
          expect(once.map(b => [b.widthMm, b.heightMm])).toEqual(
            list.map(b => [b.widthMm, b.heightMm]),
          )
          expect(aligned(once, side as 'left')).toEqual(once)
        },
      ),
    )
  })
})

describe('spread evenly', () => {
  it('three in a row: equal gaps, ends stay', () =>
    expect(distributed([box(40, 0), box(0, 0), box(12, 0)], 'x').map(b => b.xMm)).toEqual([
      40, 0, 20,
    ]))
  it('gaps differ by a millimetre at most', () => {
    fc.assert(
      fc.property(
        boxes.filter(l => l.length > 2),
        list => {
          const sorted = distributed(list, 'y').sort((a, b) => a.yMm - b.yMm)
          const gaps = sorted.slice(1).map((b, i) => b.yMm - sorted[i]!.yMm - sorted[i]!.heightMm)
          if (Math.min(...gaps) >= 0)
            expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThanOrEqual(1)
        },
      ),
    )
  })
  it('two are left alone', () =>
    expect(distributed([box(0, 0), box(30, 0)], 'x').map(b => b.xMm)).toEqual([0, 30]))
})

describe('moved together', () => {
  it('keeps the distances, and stops at the edge of the glass', () => {
    fc.assert(
      fc.property(
        boxes,
        fc.integer({ min: -200, max: 200 }),
        fc.integer({ min: -200, max: 200 }),
        (list, dx, dy) => {
          const moved = shifted(list, dx, dy, glass)
          for (const b of moved)
            expect(offGlass(b, glass) || b.xMm < EDGE_MM || b.yMm < HEAD_MM).toBe(false)
          const steps = moved.map((b, i) => `${b.xMm - list[i]!.xMm} ${b.yMm - list[i]!.yMm}`)
          expect(new Set(steps).size).toBe(1)
        },
      ),
    )
  })
})

describe('guides', () => {
  it('an edge that comes near another is drawn to it, and the guide says where', () => {
    const met = attracted(box(30.8, 71), [box(31, 20), box(3, 90)], glass)
    expect(met.box).toMatchObject({ xMm: 31, yMm: 71 })
    expect(met.guides).toContainEqual({ along: 'x', atMm: 31 })
  })
  it('the usual gap attracts as well', () =>
    expect(attracted(box(14.4, 20.3), [box(3, 20)], glass).box).toMatchObject({ xMm: 15, yMm: 20 }))
  it('far from anything it only goes to the grid', () =>
    expect(attracted(box(41.6, 66.3, 11, 11), [box(3, 20)], glass)).toEqual({
      box: box(42, 66, 11, 11),
      guides: [],
    }))
})
