/**
 * Findings of one and the same cause told once, with all the loads they concern: a list that says
 * it four times hides the fifth.
 */
import type { Edit } from '../design/edits/edits'
import type { Finding, Fix, Severity } from './finding'

/**
 * "Fan, Lamp and Vent". Made when first needed: the words of a language take a tenth of a second,
 * and nothing is listed before the first check.
 */
let listed: Intl.ListFormat | undefined
const inWords = (names: string[]) => (listed ??= new Intl.ListFormat('en-GB')).format(names)

/**
 * In the order of the first of each. Fixes that all of them have are done for all of them together.
 */
export function toldOnce(findings: readonly Finding[]): Finding[] {
  const groups = new Map<string, Finding[]>()
  findings.forEach((f, i) => {
    const key = f.cause ? `${f.code} ${f.surfaceId ?? ''} ${f.cause.key}` : `${i}`
    groups.set(key, [...(groups.get(key) ?? []), f])
  })
  return [...groups.values()].map(merged)
}

/** How many of each severity are told: of what `toldOnce` gave. */
export function counted(told: readonly Finding[]): Record<Severity, number> {
  const count = { stop: 0, warn: 0, note: 0 }
  for (const { severity } of told) count[severity]++
  return count
}

function merged(group: Finding[]): Finding {
  const [first, ...more] = group as [Finding, ...Finding[]]
  if (!more.length || !first.cause) return first
  const names = group.map(f => f.cause?.subject ?? '')
  return {
    ...first,
    title: first.title.replace(first.cause.subject, inWords(names)),
    fixes: first.fixes.flatMap(fix => forAll(fix, group)),
  }
}

function forAll(fix: Fix, group: readonly Finding[]): Fix[] {
  const same = group.map(f => f.fixes.find(x => x.words === fix.words))
  if (same.includes(undefined)) return []
  const edits = [
    ...new Map(
      same
        .flatMap(f => (f ? [f.edit] : []))
        .flatMap((edit): Edit[] => (edit.type === 'together' ? edit.edits : [edit]))
        .map(e => [JSON.stringify(e), e]),
    ).values(),
  ]
  const [only] = edits
  return [
    {
      words: fix.words,
      edit: edits.length === 1 && only ? only : { type: 'together', edits, words: fix.words },
    },
  ]
}
