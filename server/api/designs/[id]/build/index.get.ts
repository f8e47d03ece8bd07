/** The list of files that the design makes. */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  return workJson(event, 'files', { design, revision })
})
