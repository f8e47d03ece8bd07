/** P9: in each outage something still works. */
import type { Design, Load } from '../../design/schema'
import { type Part, settledPart } from '../verdict'
import { deadOutages } from '../outages-tried'

/** The part of P9: each outage in which nothing works any more, with its story. */
export function outagePart(design: Design, load: Load): Part {
  return settledPart('P9', () => {
    const dead = deadOutages(design, load.id)
    if (dead.length === 0)
      return [
        {
          surfaceId: null,
          subject: load.name,
          state: 'holds',
          reason: 'In each outage something still works',
          story: null,
        },
      ]
    return dead.map(({ outage, story }) => ({
      surfaceId: null,
      subject: outage.name,
      state: 'broken',
      reason: `${outage.name}: nothing works for ${load.name}`,
      story,
    }))
  })
}
