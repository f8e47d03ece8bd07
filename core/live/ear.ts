/**
 * Somebody who only listens on a link: a panel of nobody, added to a copy of the design. It asks
 * for nothing by itself and believes what it is told.
 */
import { NEW_PANEL, type Design, type Link, type PanelSurface } from '../design/schema'
import { derivedFrom } from '../design/part'
import type { Secret } from '../messages/sealing'
import { compileSurface, type SurfaceProgram } from '../surfaces/surface'

/** No id of a document has a slash in it. */
export const EAR = '/ear'

/** What such a surface is. `timeoutMs`: how long it waits for the answer to what it says, ms. */
export function earOn(link: Link, timeoutMs: number): PanelSurface {
  return {
    kind: 'panel',
    id: EAR,
    name: 'Nolvi',
    linkId: link.id,
    ...NEW_PANEL,
    pollMs: 0,
    belief: { policy: 'confirm', timeoutMs, retries: 0, onLoss: 'stale' },
    keys: [],
  }
}

/** What it hears means this. `design`: the whole of it. */
export function listening(
  design: Design,
  link: Link,
  timeoutMs: number,
  secret?: Secret,
  epochS?: number,
): SurfaceProgram {
  const heard = derivedFrom(design, {
    ...design,
    surfaces: [...design.surfaces, earOn(link, timeoutMs)],
  })
  return compileSurface(heard, EAR, secret, epochS)
}
