/** What was measured is kept in the log. */
import type { Link } from '../../core/design/schema'
import type { Measured } from '../../core/live/delays'
import { useDesignStore } from '../stores/design'

export function useMeasuredRecord() {
  const designs = useDesignStore()
  /** After the design was saved with it. */
  async function take(link: Link, where: string, measured: Measured): Promise<void> {
    const { design } = designs
    if (!design) return
    await designs.flush()
    await ask(`/api/designs/${encodeURIComponent(design.id)}/records`, {
      method: 'POST',
      body: {
        kind: 'measured',
        revision: designs.revision,
        title: `Measured: ${link.name} over ${where}`,
        linkId: link.id,
        ...measured,
      },
    })
  }
  return { take }
}
