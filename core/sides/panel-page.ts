/**
 * The panel page: one HTML file without any outside request, the same behaviour as on bench and in
 * the proof.
 */
import { panelOf } from '../design/find'
import type { Design } from '../design/schema'
import { pageWith, type PageOptions } from './panel-html'
import { RUNTIMES, STAND_IN } from './panel-runtime'
import { runtimeFor } from './runtime-choice'

/** A panel as one HTML file that needs nothing else. Throws `RangeError` for no such panel. */
export function panelPage(design: Design, surfaceId: string, options: PageOptions = {}): string {
  const program = RUNTIMES[runtimeFor(design, panelOf(design, surfaceId))]
  return pageWith(
    design,
    surfaceId,
    options.standInPath ? `${STAND_IN}\n${program}` : program,
    options,
  )
}
