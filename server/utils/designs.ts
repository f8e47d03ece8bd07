/** What several routes do with designs: fetch or refuse, validate or refuse. */
import type { H3Event } from 'h3'
import type { Design } from '../../core/design/schema'
import { validateDesign, type Validated } from '../../core/design/validate'
import { maybeDesign, type StoredDesign } from '../db/designs'

export async function storedDesign(event: H3Event): Promise<StoredDesign> {
  const id = designParam(event)
  const stored = await maybeDesign(await useStore(), id)
  if (!stored) throw notFound(id)
  return stored
}

/** `at` is put before the path of each problem, where the document is a part of the body. */
export async function assertDesign(event: H3Event, value: unknown, at = ''): Promise<Design> {
  // What a large one costs is not paid where everybody else is answered.
  const checked =
    bodyBytes(event) > LARGE_BYTES
      ? (JSON.parse((await work(event, 'validate', { value })).toString('utf8')) as Validated)
      : validateDesign(value)
  if (checked.ok) return checked.design
  throw refuse(
    400,
    'This is not a design that Nolvi can take',
    checked.problems.map(p => ({ ...p, path: at + p.path })),
  )
}

const LARGE_BYTES = 40_000
