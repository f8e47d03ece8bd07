/**
 * What is there already: a hand-written sketch, a page, a list. Texts that look like codes or
 * routes are found with their lines, held against the table, and can be taken over. Nothing is run;
 * a text that is no code is no harm but a line more.
 */
import type { Edit } from '../design/edits/edits'
import { freshId } from '../design/ids'
import type { Design, Link } from '../design/schema'
import { codeUses } from '../messages/clashes'
import { speaksRoutes } from '../design/links/traits'
import { first } from '../units/lists'

export interface Candidate {
  code: string
  /** From 1. */
  line: number
  text: string
  /** Compared with what arrives, or sent. */
  how: 'understood' | 'sent'
}

const QUOTED = String.raw`(?:'((?:[^'\\]|\\.){1,80})'|"((?:[^"\\]|\\.){1,80})")`
const UNDERSTOOD = new RegExp(
  String.raw`(?:==\s*|===\s*|\bcase\s+|\.equals\(\s*|\.equalsIgnoreCase\(\s*|\.indexOf\(\s*|\.startsWith\(\s*|\.includes\(\s*|\.on\(\s*|\bstrcmp\([^,]*,\s*|\bstrstr\([^,]*,\s*)${QUOTED}`,
  'g',
)
const SENT = new RegExp(
  String.raw`(?:\.print(?:ln)?\(\s*|\.write\(\s*|\bfetch\(\s*|\bhref\s*=\s*|\bsend\w*\(\s*|\bopen\(\s*(?:'\w+'|"\w+")\s*,\s*)${QUOTED}`,
  'g',
)
/** A comparison the other way round. */
const TURNED = new RegExp(String.raw`${QUOTED}\s*={2,3}`, 'g')

/** In the order of the text; each code once a line and kind. */
export function candidates(source: string): Candidate[] {
  const found: Candidate[] = []
  source.split(/\r?\n/).forEach((text, i) => {
    const take = (pattern: RegExp, how: Candidate['how']) => {
      for (const m of text.matchAll(pattern)) {
        const code = unescaped(m[1] ?? m[2] ?? '')
        if (likely(code) && !found.some(c => c.line === i + 1 && c.code === code && c.how === how))
          found.push({ code, line: i + 1, text: text.trim().slice(0, 160), how })
      }
    }
    if (/^\s*(?:\/\/|#include|\*)/.test(text)) return
    take(UNDERSTOOD, 'understood')
    take(TURNED, 'understood')
    take(SENT, 'sent')
  })
  return found
}

/** Short words without spaces, or routes. */
function likely(code: string): boolean {
  return /^\/[A-Za-z0-9._~/-]{1,79}$/.test(code) || /^[!-~]{1,8}$/.test(code)
}

function unescaped(text: string): string {
  return text
    .replace(/\\([nrt\\'"])/g, (_, c: string) => ({ n: '\n', r: '\r', t: '\t' })[c] ?? c)
    .trim()
}

export interface Match {
  candidate: Candidate
  /** What the table says it means; for "different" what is nearest. */
  means: string
  state: 'same' | 'different' | 'extra'
}
export interface Compared {
  matches: Match[]
  missing: { code: string; means: string }[]
}

/** Held against the table of a link. */
export function compare(design: Design, link: Link, found: readonly Candidate[]): Compared {
  const uses = codeUses(design, link)
  const routes = speaksRoutes(link)
  const fitting = found.filter(
    c =>
      routes === c.code.startsWith('/')
      && (routes || c.how === 'understood' || uses.some(u => u.code === c.code)),
  )
  const matches = fitting.map((candidate): Match => {
    const same = uses.find(u => u.code === candidate.code)
    const near = same ? undefined : uses.find(u => plain(u.code) === plain(candidate.code))
    const other = near ? 'different' : 'extra'
    return { candidate, means: (same ?? near)?.what ?? '', state: same ? 'same' : other }
  })
  return {
    matches,
    missing: uses
      .filter(u => u.loadId !== null && !fitting.some(c => c.code === u.code))
      .map(u => ({ code: u.code, means: u.what })),
  }
}

/**
 * Letter case and a slash at the end are the usual differences of routes; short codes have case of
 * their own.
 */
function plain(code: string): string {
  return code.startsWith('/') ? code.toLowerCase().replace(/\/$/, '') : code
}

export interface Proposal {
  name: string
  on: string
  off: string
}

/** What is said for off, as on is written. */
const OPPOSITES: Record<string, string> = { ON: 'OFF', On: 'Off' }

/**
 * Pairs that look like on and off: /fan/on with /fan/off, fanon with fanoff, a capital with its
 * small letter.
 */
export function proposals(design: Design, link: Link, found: readonly Candidate[]): Proposal[] {
  const { matches } = compare(design, link, found)
  const extra = [...new Set(matches.filter(m => m.state === 'extra').map(m => m.candidate.code))]
  return extra.flatMap((on): Proposal[] => {
    const off =
      extra.find(o => o === on.replace(/on$/i, end => OPPOSITES[end] ?? 'off') && o !== on)
      ?? (/^[A-Z]$/.test(on) ? extra.find(o => o === on.toLowerCase()) : undefined)
    if (!off) return []
    const word = on
      .replace(/on$/i, '')
      .replace(/[^A-Za-z0-9]+/g, ' ')
      .trim()
    return [
      {
        name:
          word.length > 1
            ? word.charAt(0).toUpperCase() + word.slice(1)
            : `Load ${on.replace(/[^A-Za-z0-9]/g, '')}`,
        on,
        off,
      },
    ]
  })
}

/** Each pair as a load with its codes on the link, as one edit. */
export function takeOver(design: Design, link: Link, pairs: readonly Proposal[]): Edit {
  const taken = [...design.loads]
  return {
    type: 'together',
    words: `${pairs.length} loads taken over from what is there`,
    edits: pairs.flatMap((pair): Edit[] => {
      const id = freshId(pair.name, 'load', taken)
      taken.push({ ...first(design.loads), id })
      return [
        { type: 'addLoad', name: pair.name, id },
        { type: 'addMessage', linkId: link.id, loadId: id, codes: { on: pair.on, off: pair.off } },
      ]
    }),
  }
}
