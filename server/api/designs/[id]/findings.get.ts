import { check } from '../../../../core/checks/check'

export default defineEventHandler(async (event) => {
  const { design, revision } = await storedDesign(event)
  return { revision, findings: check(design, verdictCache).findings }
})
