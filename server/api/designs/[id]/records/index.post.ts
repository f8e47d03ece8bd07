import { drillsSchema } from '../../../../../core/bench/record'
import { pointer } from '../../../../../core/design/validate'
import { keepDrills } from '../../../../db/records'

/** Keeps drills that were run. */
export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const run = drillsSchema.safeParse(await readJson(event))
  if (!run.success) throw refuse(400, 'This is no record of drills', run.error.issues.slice(0, 20).map(i => ({ path: pointer(i.path), message: i.message })))
  setResponseStatus(event, 201)
  return { id: await keepDrills(await useStore(), design.id, run.data) }
})
