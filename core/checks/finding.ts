/** A finding: what was seen, how bad, where, why, and edits that put it right. */
import type { Edit } from '../design/edits/edits'
import { maybeFarSurfaceOn } from '../design/find'
import type { Design, Link } from '../design/schema'
import type { Verdict } from '../proof/prove'

export type Severity = 'stop' | 'warn' | 'note'
export interface Fix {
  words: string
  edit: Edit
}
export interface Finding {
  /** Stable code of the rule. */
  code: string
  severity: Severity
  /** JSON Pointer into the document. */
  path: string
  title: string
  reason: string
  loadId: string | null
  surfaceId: string | null
  fixes: Fix[]
  /** The story that breaks it, step by step, when there is one. */
  story: string[]
  /** Situations examined, when the finding comes from a search. */
  situations: number | null
  /**
   * Where several findings of one code and surface may have one cause: what they share, and the
   * words of the title that differ.
   */
  cause: { key: string; subject: string } | null
}

export const SEVERITIES: readonly Severity[] = ['stop', 'warn', 'note']

/** A rule: from a design and its verdicts to what it found. */
export type Rule = (design: Design, verdicts: Record<string, Verdict>) => Finding[]

/** Where a finding about a link belongs: `rest` is the place within it. */
export function onLink(design: Design, link: Link, rest = ''): Pick<Finding, 'path' | 'surfaceId'> {
  return {
    path: `/links/${design.links.indexOf(link)}${rest}`,
    surfaceId: maybeFarSurfaceOn(design, link.id)?.id ?? null,
  }
}

/** A finding with what is not said of it left empty. */
export function finding(
  f: Partial<Finding> & Pick<Finding, 'code' | 'severity' | 'path' | 'title' | 'reason'>,
): Finding {
  return {
    loadId: null,
    surfaceId: null,
    fixes: [],
    story: [],
    situations: null,
    cause: null,
    ...f,
  }
}
