import { forgetSecret } from '../../../../db/secrets'

export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  await forgetSecret(await useStore(), design.id, slugParam(event, 'link'))
  setResponseStatus(event, 204)
  return null
})
