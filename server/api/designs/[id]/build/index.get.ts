import { buildFiles } from '../../../../../core/build/files'
import { fingerprint } from '../../../../../core/design/fingerprint'

export default defineEventHandler(async (event) => {
  const { design, revision } = await storedDesign(event)
  return { revision, fingerprint: fingerprint(design), files: buildFiles(design).map(({ text, ...file }) => ({ ...file, bytes: Buffer.byteLength(text) })) }
})
