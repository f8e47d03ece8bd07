import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import { farSurfaces } from '../../../../../core/design/find'
import { fittingSecrets } from '../../../../../core/messages/secrets'
import { printsOf } from '../../../../db/designs'
import { secretsOf } from '../../../../db/secrets'
import { MOST_CONNECTIONS } from '../../../../live/desk'
import { deskOf, wayTo } from '../../../../live/desks'

const bodySchema = z.strictObject({
  linkId: z.string().max(64),
  reached: z.discriminatedUnion('by', [
    z.strictObject({ by: z.literal('port'), path: z.string().max(200) }),
    z.strictObject({ by: z.literal('address') }),
    z.strictObject({ by: z.literal('here'), standIn: z.string().max(64) }),
    z.strictObject({ by: z.literal('page') }),
  ]),
  /** The surface in whose place it speaks; left out it is the first panel. */
  as: z.string().max(64).nullable().optional(),
})

/**
 * Connects a link of the stored revision: pressed by the maker, and to what the design names only.
 * It is tried again and again until it is let go.
 */
export default defineEventHandler(async event => {
  const { design, revision } = await storedDesign(event)
  const { linkId, reached, as } = await readAs(event, bodySchema, 'This is no connection')
  const refused = (message: string, path = '/linkId') =>
    refuse(400, 'This cannot be connected', [{ path, message }])
  if (!design.links.some(l => l.id === linkId)) throw refused(`no link "${linkId}" in this design`)
  if (as && !farSurfaces(design).some(s => s.id === as && s.linkId === linkId))
    throw refused(`"${as}" does not speak over it`, '/as')
  const way = wayTo(design, linkId, reached, keys)
  if ('not' in way) throw refused(way.not, '/reached')
  const desk = deskOf(design)
  if (desk.links.length >= MOST_CONNECTIONS)
    throw refuse(429, 'Too much is connected', [{ path: '', message: 'let one go first' }])
  const { db, vault } = await theStore()
  const secrets = fittingSecrets(design.links, await secretsOf(db, vault, design.id))
  desk.prints = await printsOf(db, design.id)
  const { of } = desk.open({
    id: `c-${randomUUID()}`,
    design,
    revision,
    linkId,
    where: way.where,
    options: {
      epochS: Math.floor((Date.now() - desk.now) / 1000),
      ...(secrets[linkId] === undefined ? {} : { secret: secrets[linkId] }),
      ...(as === undefined ? {} : { as }),
    },
    opens: way.opens,
    pins: way.pins,
  })
  setResponseStatus(event, 201)
  return { id: of.id }
})
