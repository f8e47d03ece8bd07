/** What each setting of a link is worth: the same study with that setting otherwise. */
import type { Edit } from '../design/edits/edits'
import { linkOf, maybeMessage, farSurfaces } from '../design/find'
import type { Design } from '../design/schema'

export interface Variant {
  surfaceId: string
  words: string
  edit: Edit
}

/** Settings of the links and surfaces that speak of anything, each changed alone. */
export function variantsOf(design: Design): Variant[] {
  return farSurfaces(design).flatMap((s): Variant[] => {
    const link = linkOf(design, s.linkId)
    const loads = design.loads.filter(l => maybeMessage(link, l.id))
    if (!loads.length) return []
    const { p99Ms, lossPerMille } = link.timing
    const variant = (words: string, edit: Edit): Variant => ({ surfaceId: s.id, words, edit })
    const reports = (change: boolean): Edit => ({
      type: 'together',
      words: '',
      edits: loads.map(l => ({ type: 'setReport', linkId: link.id, loadId: l.id, change })),
    })
    const tells = loads.every(l => maybeMessage(link, l.id)?.change)
    const slower = Math.min(60_000, Math.max(p99Ms * 2, link.timing.typicalMs))
    return [
      variant(tells ? 'without reports of changes' : 'with reports of changes', reports(!tells)),
      ...(s.pollMs
        ? [
            variant(`asking every ${s.pollMs / 2000} s instead of ${s.pollMs / 1000} s`, {
              type: 'setPoll',
              surfaceId: s.id,
              pollMs: Math.max(200, Math.round(s.pollMs / 2)),
            }),
            variant('without asking', { type: 'setPoll', surfaceId: s.id, pollMs: 0 }),
          ]
        : [variant('asking every 2 s', { type: 'setPoll', surfaceId: s.id, pollMs: 2000 })]),
      variant(`99 of 100 messages within ${slower} ms instead of ${p99Ms} ms`, {
        type: 'setLink',
        linkId: link.id,
        patch: { timing: { p99Ms: slower } },
      }),
      variant(`${(lossPerMille + 50) / 10} % of messages lost instead of ${lossPerMille / 10} %`, {
        type: 'setLink',
        linkId: link.id,
        patch: { timing: { lossPerMille: Math.min(500, lossPerMille + 50) } },
      }),
      ...(link.leastMs
        ? [
            variant('reports as soon as anything changes', {
              type: 'setLink',
              linkId: link.id,
              patch: { leastMs: 0 },
            }),
          ]
        : []),
    ]
  })
}
