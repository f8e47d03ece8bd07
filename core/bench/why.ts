/** Why a surface shows what it shows at a moment of a run: the reason in words, from the trace. */
import { linkOf, loadOf, maybeMessage, farSurfaceOf, farSurfaces } from '../design/find'
import type { Design, Link, FarSurface } from '../design/schema'
import { valueWords } from '../design/values'
import { seconds } from '../units/format'
import { at, differs, firstSentAt, indexAt, underWay, wrongStretches, type Trace } from './trace'

export interface Moment {
  /** null before the first power-up. */
  value: string | null
  powered: boolean
  surfaces: { surfaceId: string; shown: string; wrongForMs: number | null; why: string }[]
  inFlight: string[]
}

/** How a load and all that show it are at `t`, ms, and why. */
export function momentOf(design: Design, trace: Trace, loadId: string, t: number): Moment {
  const truth = at(trace.truth[loadId] ?? [], t)
  const panels = farSurfaces(design).filter(s => maybeMessage(linkOf(design, s.linkId), loadId))
  return {
    value: truth?.value ?? null,
    powered: truth?.powered !== false,
    surfaces: panels.map(s => {
      const shown = at(trace.beliefs[s.id]?.[loadId] ?? [], t)?.shown ?? 'unknown'
      const wrong = differs(shown, truth?.value)
      const since = wrong ? (wrongStretches(trace, s.id, loadId, t).at(-1)?.fromMs ?? t) : null
      return {
        surfaceId: s.id,
        shown,
        wrongForMs: since === null ? null : t - since,
        why: wrong ? whyWrong(design, trace, s.id, loadId, t) : '',
      }
    }),
    inFlight: underWay(trace, t)
      .filter(m => m.loadIds.includes(loadId))
      .map(m => m.shown),
  }
}

function healing({ name, pollMs }: FarSurface, { onConnect }: Link): string {
  if (pollMs) return `${name} asks every ${seconds(pollMs)}; the next answer puts it right.`
  return onConnect
    ? 'The state sent on the next connect puts it right.'
    : 'Nothing sends the state again, so it stays wrong until the next change that is heard.'
}

/** The last change the surface missed, and what became of its report. */
function whyWrong(
  design: Design,
  trace: Trace,
  surfaceId: string,
  loadId: string,
  t: number,
): string {
  const panel = farSurfaceOf(design, surfaceId)
  const link = linkOf(design, panel.linkId)
  const changes = trace.truth[loadId] ?? []
  const change = changes[indexAt(changes, t)]
  if (!change) return 'Nothing has happened yet.'
  const sent = trace.messages
    .slice(firstSentAt(trace.messages, change.t), firstSentAt(trace.messages, t + 1))
    .filter(m => m.surfaceId === surfaceId && m.dir === 'down' && m.loadIds.includes(loadId))
  const what = `${loadOf(design, loadId).name} went ${valueWords(loadOf(design, loadId).output, change.value)} at ${seconds(change.t)}`
  const lost = sent.find(m => m.lost)
  const heals = healing(panel, link)
  if (sent.some(m => !m.lost && m.endMs > t)) return `${what}; the report is on its way.`
  if (lost) return `${what}; the report "${lost.shown}" was lost. ${heals}`
  const message = maybeMessage(link, loadId)
  const isDown = (trace.down[link.id] ?? []).some(
    i => i.fromMs <= change.t && (i.toMs ?? Infinity) > change.t,
  )
  if (isDown) return `${what} while the link was down; no report could leave. ${heals}`
  if (!message?.change) return `${what}; nothing reports a change on this link. ${heals}`
  return `${what}; ${panel.name} was asked for something else meanwhile. ${heals}`
}
