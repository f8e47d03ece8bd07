/**
 * The demo designs of Marrow Lane, the shared clay studio. Glaze room, kiln corridor and old dairy
 * hold a few honest mistakes.
 */
import type { Design } from '../core/design/schema'
import { validateDesign } from '../core/design/validate'
import glazeRoom from './glaze-room.json'
import kilnCorridor from './kiln-corridor.json'
import oldDairy from './old-dairy.json'
import showroom from './showroom.json'
import starter from './starter.json'

export function demoDesigns(): Design[] {
  return [oldDairy, starter, glazeRoom, kilnCorridor, showroom].map(document => {
    const checked = validateDesign(document)
    if (!checked.ok)
      throw new Error(
        `demo design: ${checked.problems.map(p => `${p.path} ${p.message}`).join('; ')}`,
      )
    return checked.design
  })
}
