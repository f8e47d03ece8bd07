/**
 * Breaks that come about the same way: one cause, many loads. They are told once, with the loads
 * that they concern.
 */
import { PROMISE_IDS, type PromiseId } from './promises'
import type { SurfaceVerdict, Verdict } from './prove'
import type { Story } from './story/story'

export interface Group {
  key: string
  promise: PromiseId
  part: SurfaceVerdict
  story: Story
  loadIds: string[]
}

/**
 * What makes a story of one cause: the misfortunes in it, and whether it ends with something heard
 * or with something done. Who pressed what before, and how often, is not the cause.
 */
function whys({ steps }: Story): string[] {
  const kinds = steps.map(s => s.kind)
  return [
    ...[...new Set(kinds.filter(k => MISFORTUNES.includes(k)))].toSorted(),
    DONE.includes(kinds.at(-1) ?? 'fault') ? 'done' : 'heard',
  ]
}
type Kind = Story['steps'][number]['kind']
const MISFORTUNES: readonly Kind[] = [
  'drop',
  'cut',
  'loseUp',
  'loseDown',
  'doubleUp',
  'doubleDown',
  'overtakeUp',
  'overtakeDown',
  'restart',
  'fault',
]
const DONE: readonly Kind[] = [
  'press',
  'hold',
  'letGo',
  'other',
  'otherScene',
  'remote',
  'turn',
  'push',
  'rule',
  'timer',
  'key',
  'watchedKey',
  'scene',
]

/** In the order of the promises, the cause of most loads first. */
export function groupsOf(verdicts: readonly Verdict[]): Group[] {
  const groups = new Map<string, Group>()
  for (const { promise, loadId, surfaces } of verdicts) {
    for (const part of surfaces) {
      if (!part.story) continue
      const { story } = part
      const key = [
        promise,
        part.surfaceId ?? '',
        story.what,
        promise === 'P9' ? part.subject : '',
        ...whys(story),
      ].join('|')
      const group = groups.get(key) ?? { key, promise, part, story, loadIds: [] }
      if (!group.loadIds.includes(loadId)) group.loadIds.push(loadId)
      groups.set(key, group)
    }
  }
  return [...groups.values()].sort(
    (a, b) =>
      PROMISE_IDS.indexOf(a.promise) - PROMISE_IDS.indexOf(b.promise)
      || b.loadIds.length - a.loadIds.length,
  )
}
