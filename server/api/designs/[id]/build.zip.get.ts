import { buildZip } from '../../../../core/build/files'

export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  setHeader(event, 'content-type', 'application/zip')
  setHeader(event, 'content-disposition', `attachment; filename="${design.id}.zip"`)
  return Buffer.from(buildZip(design))
})
