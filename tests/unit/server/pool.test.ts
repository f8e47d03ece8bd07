import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { build } from 'esbuild'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { check } from '../../../core/checks/check'
import { blankDesign } from '../../../core/design/blank'
import { Busy, Left, OverBudget, Pool } from '../../../server/workers/pool'
import type { Kind } from '../../../server/workers/work'
import { glazeRoom } from '../../fixtures/designs'

const PRESS = { atMs: 500, action: { do: 'press' as const, controlId: 'extractor-button' } }
const bench = (untilMs: number) => ({
  design: glazeRoom(),
  controllerId: glazeRoom().controllers[0]!.id,
  script: { seed: 1, steps: [PRESS], untilMs },
})

describe('workers for what takes long', () => {
  const folder = mkdtempSync(join(tmpdir(), 'nolvi-pool-'))
  const file = join(folder, 'heavy.mjs')
  beforeAll(() =>
    build({
      entryPoints: ['server/workers/heavy.ts'],
      outfile: file,
      bundle: true,
      platform: 'node',
      format: 'esm',
      logLevel: 'error',
    }),
  )
  afterAll(() => rmSync(folder, { recursive: true, force: true }))
  let pool: Pool
  afterEach(() => pool.close())
  const start = (
    limits: Partial<{
      workers: number
      waiting: number
      memoryMb: number
      ms: number
      long: Kind[]
    }> = {},
  ) => {
    const { workers = 2, waiting = 10, memoryMb = 500, ms = 30_000, long = [] } = limits
    pool = new Pool(file, {
      workers,
      waiting,
      memoryMb,
      budgetMs: kind => (kind === 'proof' ? ms : 60_000),
      long: kind => long.includes(kind),
    })
    return pool
  }
  const text = (outcome: Awaited<ReturnType<Pool['run']>>) =>
    'bytes' in outcome
      ? (JSON.parse(Buffer.from(outcome.bytes).toString('utf8')) as Record<string, unknown>)
      : outcome
  /** A proof that takes longer than anybody waits here. */
  const endless = () =>
    pool.run('proof', {
      design: glazeRoom(),
      revision: 1,
      loadIds: Array.from({ length: 4000 }, () => 'booth-extractor'),
      promises: ['P1', 'P2'],
      bounds: { underWay: 8, situations: 5_000_000 },
      again: false,
    })

  it('give what the core gives, and say what the asker did wrong', async () => {
    start()
    expect(text(await pool.run('check', { design: glazeRoom(), revision: 3 }))).toEqual(
      JSON.parse(JSON.stringify({ revision: 3, findings: check(glazeRoom()).findings })),
    )
    expect(text(await pool.run('validate', { value: { format: 'x' } }))).toMatchObject({
      ok: false,
      problems: [{ path: '/format' }],
    })
    expect(
      text(
        await pool.run('bench', {
          ...bench(1000),
          script: { seed: 1, steps: [{ atMs: 1, action: { do: 'press', controlId: 'nobody' } }] },
        }),
      ),
    ).toMatchObject({ refused: { status: 400 } })
    expect(text(await pool.run('bench', bench(2000)))).toMatchObject({
      untilMs: 2000,
      trace: { moves: { 'booth-extractor': 1 } },
    })
  })
  it('end with who asked, and go on with the next', async () => {
    start({ workers: 1 })
    const gone = new AbortController()
    const asked = pool.run(
      'proof',
      {
        design: glazeRoom(),
        revision: 1,
        loadIds: Array.from({ length: 4000 }, () => 'booth-extractor'),
        promises: ['P1'],
        bounds: { underWay: 8, situations: 5_000_000 },
        again: false,
      },
      gone.signal,
    )
    const next = pool.run('check', { design: blankDesign('a', 'A') })
    gone.abort()
    await expect(asked).rejects.toThrow(Left)
    expect(text(await next)).toHaveProperty('findings')
    await expect(pool.run('check', { design: glazeRoom() }, gone.signal)).rejects.toThrow(Left)
  })
  it('one that waits and is not wanted any more is never begun', async () => {
    start({ workers: 1 })
    const first = endless().catch((e: unknown) => e)
    const gone = new AbortController()
    const second = pool.run('check', { design: glazeRoom() }, gone.signal)
    gone.abort()
    await expect(second).rejects.toThrow(Left)
    expect(pool.waiting).toBe(0)
    await pool.close()
    expect(await first).toBeInstanceOf(Left)
  })
  it('have a budget of time', async () => {
    start({ ms: 300 })
    await expect(endless()).rejects.toThrow(OverBudget)
    expect(text(await pool.run('validate', { value: 1 }))).toMatchObject({ ok: false })
  })
  it('have a budget of memory; what needs more ends alone', async () => {
    start({ memoryMb: 24 })
    await expect(
      pool.run('bench', {
        ...bench(20 * 3_600_000),
        script: {
          seed: 1,
          steps: Array.from({ length: 60_000 }, (_, i) => ({ ...PRESS, atMs: i * 1000 })),
          untilMs: 20 * 3_600_000,
        },
      }),
    ).rejects.toThrow(/more than 24 MB/)
  })
  it('refuse when too much waits', async () => {
    start({ workers: 1, waiting: 1 })
    const held = [endless(), endless()].map(p => p.catch((e: unknown) => e))
    await expect(endless()).rejects.toThrow(Busy)
    await pool.close()
    expect((await Promise.all(held)).every(e => e instanceof Left)).toBe(true)
  })
  it('leave one for what is short while long things run', async () => {
    start({ workers: 2, long: ['proof'] })
    const held = [endless(), endless(), endless()].map(p => p.catch((e: unknown) => e))
    expect(text(await pool.run('validate', { value: 1 }))).toMatchObject({ ok: false })
    await pool.close()
    await Promise.all(held)
  })
})
