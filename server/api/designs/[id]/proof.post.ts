import { z } from 'zod'
import { pointer } from '../../../../core/design/validate'
import { Proof, type Verdict } from '../../../../core/proof/prove'
import { THOROUGH } from '../../../../core/proof/system'

const bound = (max: number) => z.number().int().min(0).max(max)
const bodySchema = z.strictObject({
  promises: z.array(z.literal('P1')).min(1).default(['P1']),
  loadIds: z.array(z.string()).optional(),
  bounds: z.strictObject({ presses: bound(8), commands: bound(8), drops: bound(4), losses: bound(4), powerCuts: bound(3), situations: z.number().int().min(1).max(5_000_000) }).partial().default({}),
})

/** Proves promise P1 for the named loads, or for all. Ends when the asker goes away. */
export default defineEventHandler(async (event) => {
  const { design, revision } = await storedDesign(event)
  const body = bodySchema.safeParse(await readJson(event))
  if (!body.success) throw refuse(400, 'This is not a request for a proof', body.error.issues.map(i => ({ path: pointer(i.path), message: i.message })))
  const unknown = body.data.loadIds?.findIndex(id => !design.loads.some(l => l.id === id)) ?? -1
  if (unknown >= 0) throw refuse(400, 'There is no such load', [{ path: `/loadIds/${unknown}`, message: `no load "${body.data.loadIds?.[unknown]}"` }])
  const loads = design.loads.filter(l => body.data.loadIds?.includes(l.id) ?? true)
  const verdicts: Verdict[] = []
  for (const load of loads) {
    const proof = new Proof(design, load.id, { ...THOROUGH, ...body.data.bounds })
    while (!proof.run(SLICE)) {
      await nextTurn()
      if (event.node.res.destroyed) return null
    }
    verdicts.push(proof.verdict())
  }
  return { revision, verdicts }
})

const SLICE = 4_000
