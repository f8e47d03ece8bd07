import { uploadRunSchema } from '../../../../../core/boards/upload-record'
import { drillsSchema } from '../../../../../core/bench/record'
import { proofRunSchema } from '../../../../../core/proof/record'
import { keepDrills, keepProof, keepUpload } from '../../../../db/records'

/**
 * Keeps drills that were run, promises that were proved, or a board that was written to; all but
 * drills say what they are, so that what is wrong with them can be named.
 */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const body = await readJson(event)
  const kind = typeof body === 'object' && body !== null && 'kind' in body ? body.kind : null
  const db = await useStore()
  const kept = (id: number) => {
    setResponseStatus(event, 201)
    return { id }
  }
  if (kind === 'upload') {
    const upload = uploadRunSchema.safeParse(body)
    if (!upload.success)
      throw refuse(400, 'This is no record of an upload', problemsOf(upload.error))
    return kept(await keepUpload(db, design.id, upload.data))
  }
  if (kind !== null) {
    const proof = proofRunSchema.safeParse(body)
    if (!proof.success) throw refuse(400, 'This is no record of a proof', problemsOf(proof.error))
    return kept(await keepProof(db, design.id, proof.data))
  }
  const drills = drillsSchema.safeParse(body)
  if (!drills.success) throw refuse(400, 'This is no record of drills', problemsOf(drills.error))
  return kept(await keepDrills(db, design.id, drills.data))
})
