/** All files of the design in one archive. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const zip = await work(event, 'zip', { design })
  setHeader(event, 'content-type', 'application/zip')
  setHeader(event, 'content-disposition', `attachment; filename="${design.id}.zip"`)
  return zip
})
