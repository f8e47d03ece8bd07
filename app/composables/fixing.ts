/** What a finding or a verdict offers: press a fix, or play its story on the bench. */
import type { BenchScript } from '../../core/bench/script'
import type { Fix } from '../../core/checks/finding'
import type { Story } from '../../core/proof/story/story'
import { useDesignStore } from '../stores/design'

export function useFixing() {
  const designs = useDesignStore()
  const router = useRouter()

  function fix(fix: Fix): void {
    designs.apply(fix.edit)
  }

  /** `onBoard`: on the emulated board too. */
  async function playScript(
    script: BenchScript,
    title: string,
    loadId: string,
    onBoard = false,
  ): Promise<void> {
    // A bench once made is made anew with each edit, and is a third of all there is to fetch: only
    // where something is played.
    const { useBenchStore } = await import('../stores/bench')
    useBenchStore().play({ script, title, loadId })
    await router.push(`/d/${designs.design?.id}/bench${onBoard ? '?board' : ''}`)
  }

  const play = (story: Story, loadId: string, onBoard = false) =>
    playScript(story.script, story.ending, loadId, onBoard)

  return { fix, play, playScript }
}
