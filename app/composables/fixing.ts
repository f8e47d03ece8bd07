/** What a finding or a verdict offers: press a fix, or play its story on the bench. */
import type { Fix } from '../../core/checks/finding'
import type { Story } from '../../core/proof/story'
import { useBenchStore } from '../stores/bench'
import { useDesignStore } from '../stores/design'

export function useFixing() {
  const designs = useDesignStore()
  const router = useRouter()

  function fix(fix: Fix): void {
    designs.apply(fix.edit)
  }

  async function play(story: Story, loadId: string): Promise<void> {
    // A bench once made is made anew with each edit: only where something is played.
    useBenchStore().play({ script: story.script, title: story.ending, loadId })
    await router.push(`/d/${designs.design?.id}/bench`)
  }

  return { fix, play }
}
