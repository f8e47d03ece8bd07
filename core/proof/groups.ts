/** Breaks that come about the same way: one cause, many loads. They are told once, with the loads that they concern. */
import { PROMISE_IDS, type PromiseId } from './promises'
import type { SurfaceVerdict, Verdict } from './prove'
import type { Story } from './story'

export interface Group { key: string, promise: PromiseId, part: SurfaceVerdict, story: Story, loadIds: string[] }

/** In the order of the promises, the cause of most loads first. */
export function groupsOf(verdicts: readonly Verdict[]): Group[] {
  const groups = new Map<string, Group>()
  for (const { promise, loadId, surfaces } of verdicts) {
    for (const part of surfaces) {
      if (!part.story) continue
      const { story } = part
      const key = [promise, part.surfaceId ?? '', story.what, promise === 'P9' ? part.subject : '', ...story.steps.map(s => `${s.kind} ${s.surfaceId ?? ''}`)].join('|')
      const group = groups.get(key) ?? { key, promise, part, story, loadIds: [] }
      if (!group.loadIds.includes(loadId)) group.loadIds.push(loadId)
      groups.set(key, group)
    }
  }
  return [...groups.values()].sort((a, b) => PROMISE_IDS.indexOf(a.promise) - PROMISE_IDS.indexOf(b.promise) || b.loadIds.length - a.loadIds.length)
}
