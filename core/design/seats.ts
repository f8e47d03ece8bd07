/**
 * Several panels and boxes on one link: each has a connection of its own, with its own queue, its
 * own answers and its own belief. Bench and proof therefore see a link for each of them; the
 * document, the papers and the program of the board have one.
 */
import { farSurfaces } from './find'
import { linkRow } from './links/rows'
import { derivedFrom } from './part'
import type { Design, FarSurface, Link } from './schema'

/** Panels and boxes that a link takes at once; what the board can serve. */
export function seatsOf(link: Link): number {
  return linkRow(link).seats(link)
}

/** Those who speak over a link, in the order of the sheet. */
export function speakersOn(design: Pick<Design, 'surfaces'>, linkId: string): FarSurface[] {
  return farSurfaces(design).filter(s => s.linkId === linkId)
}

/**
 * The design with a link for each panel and box: the first keeps the link itself, the others get
 * one like it. The design itself where nobody shares; the same object for the same design.
 */
export function seated(design: Design): Design {
  let known = seats.get(design)
  if (!known) {
    known = apart(design)
    seats.set(design, known)
    seats.set(known, known)
  }
  return known
}
const seats = new WeakMap<Design, Design>()

/** The link of the document that a seat belongs to; a link of its own is itself. */
export function linkOfSeat(design: Design, linkId: string): string {
  return origins.get(design)?.get(linkId) ?? linkId
}
const origins = new WeakMap<Design, ReadonlyMap<string, string>>()

function apart(design: Design): Design {
  const taken = new Set<string>()
  const ids = new Set(design.links.map(l => l.id))
  const further: Link[] = []
  const from = new Map<string, string>()
  const surfaces = design.surfaces.map(s => {
    if (s.kind === 'hand') return s
    if (!taken.has(s.linkId)) {
      taken.add(s.linkId)
      return s
    }
    const link = design.links.find(l => l.id === s.linkId)
    if (!link) return s
    const id = seatId(link.id, s.id, ids)
    ids.add(id)
    further.push({ ...link, id })
    from.set(id, link.id)
    return { ...s, linkId: id }
  })
  if (!further.length) return design
  const known = derivedFrom(design, { ...design, links: [...design.links, ...further], surfaces })
  origins.set(known, from)
  return known
}

/** An id of at most forty characters, as scripts name links by. */
function seatId(linkId: string, surfaceId: string, taken: ReadonlySet<string>): string {
  const base = `${linkId.slice(0, 18)}--${surfaceId.slice(0, 16)}`
  let id = base
  for (let n = 2; taken.has(id); n++) id = `${base}-${n}`
  return id
}
