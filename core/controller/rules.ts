/**
 * What a rule makes of a reading: it acts on the edge of a crossing, once, and again only after the
 * reading was back far enough.
 */
import type { Rule } from '../design/schema'
import { exact } from './readings'
import type { RuleState } from './state'

/** What a rule makes of a reading: its next state, and whether it acts now. */
export function ruled(
  rule: Rule,
  state: RuleState,
  text: string,
): { state: RuleState; acts: boolean } {
  if (rule.when === 'is') {
    const beyond = text === rule.text
    return { state: { ...state, beyond }, acts: crossed(rule, state.beyond, beyond) }
  }
  const value = Number(text)
  // No number is neither above nor below: a broken float, two axes.
  if (text === '' || !Number.isFinite(value)) return { state, acts: false }
  if (rule.when === 'moved') {
    const way = exact(state.way + (state.last === null ? 0 : Math.abs(value - state.last)))
    const acts = way > 0 && way >= rule.limit
    return { state: { beyond: false, last: value, way: acts ? 0 : way }, acts }
  }
  const over = exact(rule.when === 'above' ? value - rule.limit : rule.limit - value)
  const beyond = over > 0 || (state.beyond === true && over > -rule.back)
  return { state: { beyond, last: value, way: 0 }, acts: crossed(rule, state.beyond, beyond) }
}

function crossed(rule: Rule, before: boolean | null, beyond: boolean): boolean {
  return beyond && (before === null ? rule.atStart : !before)
}
