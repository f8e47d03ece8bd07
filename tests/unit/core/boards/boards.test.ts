import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { assignPins, cheapest, pinCost, type PinNeed } from '../../../../core/boards/assign'
import { maybeShipped, SHIPPED } from '../../../../core/boards/boards'
import { troubles, type PinUse } from '../../../../core/boards/hazards'
import {
  boardSchema,
  migrateBoard,
  sourceOf,
  type BoardPin,
  type BoardProfile,
  type Hazard,
  type HazardKind,
} from '../../../../core/boards/schema'

const USES: PinUse[] = [
  { as: 'output', activeLevel: 'low' },
  { as: 'output', activeLevel: 'high' },
  { as: 'contact', rests: 'open' },
  { as: 'contact', rests: 'either' },
  { as: 'sense' },
  { as: 'serial-in' },
  { as: 'serial-out' },
  { as: 'analog' },
  { as: 'pwm', activeLevel: 'low' },
  { as: 'pwm', activeLevel: 'high' },
  { as: 'wire-in' },
  { as: 'wire-out' },
]

describe('shipped profiles', () => {
  it.each(SHIPPED.map(b => [b.id, b] as const))('%s is a valid profile', (_, board) => {
    const checked = boardSchema.safeParse(board)
    expect(checked.error?.issues).toBeUndefined()
    expect(new Set(board.pins.map(p => p.label)).size).toBe(board.pins.length)
    expect(board.flashing.length).toBeGreaterThanOrEqual(4)
  })
  it('are the eight classes, of generic names', () =>
    expect(SHIPPED.map(b => b.pins.filter(p => p.can.length).length)).toEqual([
      20, 22, 4, 12, 26, 15, 26, 6,
    ]))
  it('a profile with an unknown key, a pin twice, or a tag in a name is refused with its place', () => {
    const base = structuredClone(SHIPPED[0]!)
    const places = (change: (b: BoardProfile) => void) => {
      const b = structuredClone(base)
      change(b)
      return boardSchema.safeParse(b).error?.issues.map(i => i.path.join('/'))
    }
    expect(places(b => Object.assign(b.pins[3]!, { colour: 'red' }))).toEqual(['pins/3'])
    expect(
      places(b => {
        b.pins[3]!.chip = 2
      }),
    ).toEqual(['pins/3/chip'])
    expect(
      places(b => {
        b.name = '<b>board'
      }),
    ).toEqual(['name'])
  })
})

describe('sources', () => {
  it('every fact of every shipped profile has one, by class', () => {
    for (const board of SHIPPED) {
      for (const fact of [
        'volts',
        'currents',
        'pull-ups',
        'analog',
        'labels',
        'abilities',
        'uploading',
      ] as const)
        expect(sourceOf(board, fact), `${board.id} ${fact}`).toMatch(
          /^(data sheet|schematic|documentation): /,
        )
      for (const p of board.pins)
        for (const h of p.hazards)
          expect(sourceOf(board, h.kind), `${board.id} ${p.label}`).not.toBe('')
    }
  })
  it('a profile whose hazard has none is refused', () => {
    const board = structuredClone(maybeShipped('board-dual-radio')!)
    board.sources = board.sources.map(s => ({ ...s, facts: s.facts.filter(f => f !== 'radio') }))
    expect(
      boardSchema.safeParse(board).error?.issues.map(i => `${i.path.join('/')} ${i.message}`),
    ).toEqual(['sources no source is told for radio'])
  })
  it('a profile of format 1 is brought to this one; anything else is left to the schema', () => {
    const old = {
      ...structuredClone(SHIPPED[0]!),
      version: 1,
      sources: ['data sheet of the class'],
    }
    expect(boardSchema.parse(migrateBoard(old)).sources[0]?.words).toBe('data sheet of the class')
    for (const strange of [
      null,
      3,
      [],
      { format: 'nolvi-board', version: 1, sources: 'x' },
      { format: 'other', version: 1, sources: [] },
    ])
      expect(migrateBoard(strange)).toBe(strange)
  })
})

describe('hazards', () => {
  const pin = (hazard: Hazard): BoardPin => ({
    chip: 1,
    label: 'P',
    can: ['in', 'out', 'pull-up', 'analog', 'pwm', 'interrupt', 'serial-in', 'serial-out'],
    hazards: [hazard],
  })
  /**
   * Which use each kind of hazard touches, and how badly: worked out one by one. Order as in USES.
   */
  const expected: [Hazard, (string | null)[]][] = [
    [
      { kind: 'reserved', words: 'www' },
      [
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
        'stop',
      ],
    ],
    [
      { kind: 'input-only', words: 'www' },
      ['stop', 'stop', null, null, null, null, null, null, 'stop', 'stop', null, 'stop'],
    ],
    [
      { kind: 'no-pull-up', words: 'www' },
      [null, null, 'warn', 'warn', null, null, null, null, null, null, null, null],
    ],
    [
      { kind: 'boot-strap', words: 'www', needs: 'high' },
      [null, 'stop', 'warn', 'stop', 'stop', null, null, null, null, 'stop', null, null],
    ],
    [
      { kind: 'boot-strap', words: 'www', needs: 'low' },
      ['stop', null, 'stop', 'stop', null, 'stop', 'stop', 'stop', 'stop', null, 'stop', 'stop'],
    ],
    [
      { kind: 'boot-log', words: 'www' },
      ['warn', 'warn', 'warn', 'warn', null, null, 'note', null, 'warn', 'warn', null, 'note'],
    ],
    [
      { kind: 'reset-level', words: 'www', level: 'high' },
      [null, 'stop', null, null, null, null, null, null, null, 'stop', null, null],
    ],
    [
      { kind: 'reset-level', words: 'www', level: 'low' },
      ['stop', null, null, null, null, null, null, null, 'stop', null, null, null],
    ],
    [
      { kind: 'led', words: 'www', lit: 'high' },
      ['note', 'note', 'warn', 'warn', null, null, null, null, 'note', 'note', null, null],
    ],
    [
      { kind: 'led', words: 'www', lit: 'low' },
      ['note', 'note', null, null, null, null, null, null, 'note', 'note', null, null],
    ],
    [
      { kind: 'upload', words: 'www' },
      [
        'warn',
        'warn',
        'warn',
        'warn',
        'warn',
        'note',
        'note',
        'warn',
        'warn',
        'warn',
        'warn',
        'warn',
      ],
    ],
    [
      { kind: 'radio', words: 'www' },
      [null, null, null, null, null, null, null, 'stop', null, null, null, null],
    ],
  ]
  it.each(
    expected.map(
      ([h, list]) =>
        [
          `${h.kind} ${'needs' in h ? h.needs : 'level' in h ? h.level : 'lit' in h ? h.lit : ''}`,
          h,
          list,
        ] as const,
    ),
  )('%s', (_, hazard, list) => {
    expect(USES.map(use => troubles(pin(hazard), use)[0]?.severity ?? null)).toEqual(list)
    for (const use of USES)
      for (const t of troubles(pin(hazard), use)) expect(t.wayOut.length).toBeGreaterThan(8)
  })
  it('every hazard of every shipped pin can be provoked, with its label and a way out', () => {
    const seen = new Set<HazardKind>()
    for (const board of SHIPPED) {
      for (const p of board.pins) {
        for (const h of p.hazards) {
          const raised = USES.flatMap(use => troubles(p, use)).filter(t => t.hazard === h.kind)
          expect(raised.length, `${board.id} ${p.label} ${h.kind}`).toBeGreaterThan(0)
          expect(raised[0]!.words).toContain(p.label)
          seen.add(h.kind)
        }
      }
    }
    expect(seen.size).toBe(9)
  })
  it('a pin without hazards raises nothing but what it cannot do', () => {
    for (const board of SHIPPED)
      for (const p of board.pins.filter(x => x.hazards.length === 0))
        for (const use of USES)
          expect(troubles(p, use).every(t => t.hazard === 'ability')).toBe(true)
  })
})

/** Least cost by trying every injection of rows into columns. */
function bruteForce(costs: number[][]): number {
  const used = new Set<number>()
  const go = (row: number): number => {
    if (row === costs.length) return 0
    let best = Infinity
    costs[row]!.forEach((cost, c) => {
      if (used.has(c)) return
      used.add(c)
      best = Math.min(best, cost + go(row + 1))
      used.delete(c)
    })
    return best
  }
  return go(0)
}

describe('least-cost assignment', () => {
  it('against every possible one', () => {
    fc.assert(
      fc.property(
        fc
          .integer({ min: 1, max: 5 })
          .chain(rows =>
            fc
              .integer({ min: rows, max: 6 })
              .chain(columns =>
                fc.array(
                  fc.array(fc.nat({ max: 30 }), { minLength: columns, maxLength: columns }),
                  { minLength: rows, maxLength: rows },
                ),
              ),
          ),
        costs => {
          const columns = cheapest(costs)
          expect(new Set(columns).size).toBe(costs.length)
          expect(columns.reduce((sum, c, r) => sum + costs[r]![c]!, 0)).toBe(bruteForce(costs))
        },
      ),
      { numRuns: 500 },
    )
  })

  const need = fc.constantFrom(...USES)
  it('needs on pins: as few unmet as possible, then as cheap as possible', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SHIPPED),
        fc.array(need, { minLength: 1, maxLength: 4 }),
        fc.nat(),
        (board, uses, offset) => {
          // Brute force can finish on six pins.
          const pins = Array.from(
            { length: 6 },
            (_, i) => board.pins[(offset + i * 3) % board.pins.length]!,
          ).filter((p, i, all) => all.indexOf(p) === i)
          const few: BoardProfile = { ...board, pins }
          const needs: PinNeed[] = uses.map((use, i) => ({ id: `n${i}`, what: `need ${i}`, use }))
          const result = assignPins(few, needs)
          const best = (
            row: number,
            taken: ReadonlySet<number>,
          ): { unmet: number; cost: number } => {
            if (row === needs.length) return { unmet: 0, cost: 0 }
            const skip = best(row + 1, taken)
            const options = [{ unmet: skip.unmet + 1, cost: skip.cost }]
            for (const p of pins) {
              const cost = pinCost(p, needs[row]!.use)
              if (taken.has(p.chip) || !Number.isFinite(cost)) continue
              const rest = best(row + 1, new Set([...taken, p.chip]))
              options.push({ unmet: rest.unmet, cost: rest.cost + cost })
            }
            return options.reduce((a, b) =>
              b.unmet < a.unmet || (b.unmet === a.unmet && b.cost < a.cost) ? b : a,
            )
          }
          const optimum = best(0, new Set())
          expect(result.unmet.length).toBe(optimum.unmet)
          expect(result.cost).toBe(optimum.unmet * 1_000_000 + optimum.cost)
          expect(new Set(result.assigned.map(a => a.chip)).size).toBe(result.assigned.length)
          for (const a of result.assigned)
            expect(a.troubles.some(t => t.severity === 'stop')).toBe(false)
        },
      ),
      { numRuns: 300 },
    )
  })
  it('keeps what the maker pinned, and says what cannot be met and what would help', () => {
    const board = maybeShipped('board-wifi-small')!
    const needs: PinNeed[] = ['a', 'b', 'c', 'd', 'e'].map(id => ({
      id,
      what: id,
      use: { as: 'output', activeLevel: 'low' },
    }))
    const result = assignPins(board, needs, new Map([['a', 3]]))
    expect(result.assigned.find(a => a.needId === 'a')).toMatchObject({
      chip: 3,
      why: 'kept as you set it',
    })
    expect(result.assigned).toHaveLength(4)
    expect(result.unmet).toHaveLength(1)
    expect(result.unmet[0]?.why).toContain('take a board with more pins')
    const high = assignPins(board, [{ id: 'x', what: 'x', use: { as: 'analog' } }])
    expect(high.unmet[0]?.why).toContain('take another board')
  })
  it('twenty-four needs on the board with most pins are met without a stop', () => {
    const board = maybeShipped('board-linux-header')!
    const needs: PinNeed[] = Array.from({ length: 24 }, (_, i) => ({
      id: `n${i}`,
      what: `n${i}`,
      use: i % 3 ? { as: 'output', activeLevel: 'low' } : { as: 'contact', rests: 'open' },
    }))
    const result = assignPins(board, needs)
    expect(result.unmet).toEqual([])
    expect(result.assigned.flatMap(a => a.troubles).filter(t => t.severity === 'stop')).toEqual([])
  })
})
