import { z } from 'zod'
import { fingerprint } from '../../../../../core/design/fingerprint'
import { ANSWERS } from '../../../../../core/live/commissioning/results'
import { printsOf } from '../../../../db/designs'
import { keepCommissioning, lastCommissioning } from '../../../../db/records'
import { Commissioner } from '../../../../live/commissioner'
import { deskOf } from '../../../../live/desks'

const bodySchema = z.discriminatedUnion('do', [
  /** `anew`: what was gone through before does not count. */
  z.strictObject({ do: z.literal('start'), anew: z.boolean() }),
  z.strictObject({ do: z.literal('begin'), stepId: z.string().max(200) }),
  z.strictObject({ do: z.literal(['next', 'ready', 'again', 'later', 'left out', 'stop']) }),
  z.strictObject({
    do: z.literal('answer'),
    answer: z.enum(ANSWERS),
    otherId: z.string().max(64).nullable().optional(),
  }),
])

/**
 * Goes through the steps of a commissioning: begun anew, or gone on with where it was left, as long
 * as the table is the same.
 */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const body = await readAs(event, bodySchema, 'This is no step of a commissioning')
  const desk = deskOf(design)
  if (body.do === 'start') {
    const db = await useStore()
    const last = body.anew ? null : await lastCommissioning(db, design.id)
    const before = last?.run.fingerprint === fingerprint(design) ? last : null
    let id = before?.id ?? null
    desk.prints = await printsOf(db, design.id)
    desk.commissioner?.close()
    desk.commissioner = new Commissioner(desk, design, revision, before?.run ?? null, async run => {
      id = await keepCommissioning(await useStore(), design.id, design.name, run, id)
    })
  } else if (!desk.commissioner)
    throw refuse(409, 'No commissioning is under way', [
      { path: '', message: 'begin one first: {"do": "start", "anew": false}' },
    ])
  else if (body.do === 'stop') {
    desk.commissioner.close()
    desk.commissioner = null
    desk.tellSoon()
  } else desk.commissioner.does(body)
  return desk.commissioner?.view() ?? null
})
