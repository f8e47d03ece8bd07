import { z } from 'zod'
import { DEFAULT_BOUNDS, WIDEST } from '../../../../core/proof/bounds'
import { LIMITS } from '../../../../core/design/schema'
import { PROMISE_IDS, type PromiseId } from '../../../../core/proof/promises'

const bodySchema = z.strictObject({
  promises: z
    .array(z.enum(PROMISE_IDS as unknown as [PromiseId, ...PromiseId[]]))
    .min(1)
    .default([...PROMISE_IDS]),
  loadIds: z.array(z.string().max(60)).max(LIMITS.loads).optional(),
  /** Whether what holds is gone through again by the separate checker. */
  check: z.boolean().default(false),
  bounds: z
    .strictObject({
      underWay: z.number().int().min(2).max(WIDEST.underWay),
      // A server answers several people: it holds less at once than a browser may.
      situations: z.number().int().min(1).max(5_000_000),
    })
    .partial()
    .default({}),
})

/** Proves promises for the named loads, or for all. Ends when the asker goes away. */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const body = await readAs(event, bodySchema, 'This is not a request for a proof')
  const unknown = body.loadIds?.findIndex(id => !design.loads.some(l => l.id === id)) ?? -1
  if (unknown >= 0)
    throw refuse(400, 'There is no such load', [
      {
        path: `/loadIds/${unknown}`,
        message: `no load "${printable(body.loadIds?.[unknown] ?? '')}"`,
      },
    ])
  const loadIds = design.loads.map(l => l.id).filter(id => body.loadIds?.includes(id) ?? true)
  return workJson(event, 'proof', {
    design,
    revision,
    loadIds,
    promises: body.promises,
    bounds: { ...DEFAULT_BOUNDS, ...body.bounds },
    again: body.check,
  })
})
