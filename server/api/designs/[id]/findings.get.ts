export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  return workJson(event, 'check', { design, revision })
})
