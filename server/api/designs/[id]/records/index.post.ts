import { drillsSchema } from '../../../../../core/bench/record'
import { proofRunSchema } from '../../../../../core/proof/record'
import { keepDrills, keepProof } from '../../../../db/records'

/**
 * Keeps drills that were run, or promises that were proved; a proof says that it is one, so that
 * what is wrong with it can be named.
 */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const body = await readJson(event)
  const isProof = typeof body === 'object' && body !== null && 'kind' in body
  const proof = isProof ? proofRunSchema.safeParse(body) : null
  const drills = isProof ? null : drillsSchema.safeParse(body)
  const error = (proof ?? drills)?.error
  if (error)
    throw refuse(400, `This is no record of ${isProof ? 'a proof' : 'drills'}`, problemsOf(error))
  setResponseStatus(event, 201)
  const db = await useStore()
  return {
    id: proof?.data
      ? await keepProof(db, design.id, proof.data)
      : drills?.data
        ? await keepDrills(db, design.id, drills.data)
        : 0,
  }
})
