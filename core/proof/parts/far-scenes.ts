/** P2: a scene that another board is asked for. */
import type { Design, Load } from '../../design/schema'
import { type Part, settledPart } from '../verdict'
import { scenesFromAfar } from '../assumptions'

/**
 * A scene that is asked of another board's link: the load never hears of it, and whoever pressed is
 * told nothing.
 */
export function farScenes(whole: Design, load: Load): Part[] {
  return scenesFromAfar(whole, load).map(({ scene, surface, linkName }) =>
    settledPart('P2', () => [
      {
        surfaceId: null,
        subject: surface.name,
        state: 'broken',
        story: null,
        reason: `"${scene}" on ${surface.name} is asked of another board over ${linkName}, which does not pass it on: ${load.name} never hears of it`,
      },
    ]),
  )
}
