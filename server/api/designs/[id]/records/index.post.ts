import { uploadRunSchema } from '../../../../../core/boards/upload-record'
import { drillsSchema } from '../../../../../core/bench/record'
import { measuredRunSchema, noteSchema } from '../../../../../core/live/record'
import { proofRunSchema } from '../../../../../core/proof/record'
import { keepDrills, keepMeasured, keepNote, keepProof, keepUpload } from '../../../../db/records'

/**
 * Keeps drills that were run, promises that were proved, a board that was written to, times that
 * were measured, or a note; all but drills say what they are, so that what is wrong with them can
 * be named.
 */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const body = await readJson(event)
  const kind = typeof body === 'object' && body !== null && 'kind' in body ? body.kind : null
  const db = await useStore()
  const keptId = async () => {
    switch (kind) {
      case 'upload':
        return keepUpload(db, design.id, readValue(body, uploadRunSchema, NO('an upload')))
      case 'measured':
        return keepMeasured(db, design.id, readValue(body, measuredRunSchema, NO('a measurement')))
      case 'note':
        return keepNote(db, design.id, readValue(body, noteSchema, NO('a note')))
      case null:
        return keepDrills(db, design.id, readValue(body, drillsSchema, NO('drills')))
      default:
        return keepProof(db, design.id, readValue(body, proofRunSchema, NO('a proof')))
    }
  }
  const id = await keptId()
  setResponseStatus(event, 201)
  return { id }
})

const NO = (what: string) => `This is no record of ${what}`
