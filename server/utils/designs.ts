/** What several routes do with designs: fetch or refuse, validate or refuse, check with a shared memory. */
import type { H3Event } from 'h3'
import { VerdictCache } from '../../core/checks/verdicts'
import type { Design } from '../../core/design/schema'
import { validateDesign } from '../../core/design/validate'
import { maybeDesign, type StoredDesign } from '../db/designs'

export const verdictCache = new VerdictCache()

export async function storedDesign(event: H3Event): Promise<StoredDesign> {
  const id = getRouterParam(event, 'id') ?? ''
  const stored = await maybeDesign(await useStore(), id)
  if (!stored) throw notFound(id)
  return stored
}

/** `at` is put before the path of each problem, where the document is a part of the body. */
export function assertDesign(value: unknown, at = ''): Design {
  const checked = validateDesign(value)
  if (checked.ok) return checked.design
  throw refuse(400, 'This is not a design that Nolvi can take', checked.problems.map(p => ({ ...p, path: at + p.path })))
}
