import { listRevisions } from '../../../../db/designs'

export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  return listRevisions(await useStore(), design.id)
})
