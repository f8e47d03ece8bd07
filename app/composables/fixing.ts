/** What a finding or a verdict offers: press a fix, or play its story on the bench. */
import type { BenchScript } from '../../core/bench/script'
import type { Fix } from '../../core/checks/finding'
import type { Story } from '../../core/proof/story/story'
import { useBenchStore } from '../stores/bench'
import { useDesignStore } from '../stores/design'

export function useFixing() {
  const designs = useDesignStore()
  const router = useRouter()

  function fix(fix: Fix): void {
    designs.apply(fix.edit)
  }

  async function playScript(script: BenchScript, title: string, loadId: string): Promise<void> {
    // A bench once made is made anew with each edit: only where something is played.
    useBenchStore().play({ script, title, loadId })
    await router.push(`/d/${designs.design?.id}/bench`)
  }

  const play = (story: Story, loadId: string) => playScript(story.script, story.ending, loadId)

  return { fix, play, playScript }
}
