import { standInsOf } from '../../../../live/stand-ins'

export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  return standInsOf(design.id)
})
