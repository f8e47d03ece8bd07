/** What is wrong with controllers, their boards, lamps and expanders, and with what feeds them. */
import { maybeShipped } from '../../boards/boards'
import { linksShown } from '../boxes'
import { indexed, type Path, type Problems } from './problems'

/** Finds what is wrong with each controller, board and regulator. */
export function boardProblems(found: Problems): void {
  const { design } = found
  design.controllers.forEach((c, i) => {
    if (!maybeShipped(c.board))
      found.refers(found.boards, c.board, 'board', ['controllers', i, 'board'])
  })
  design.boards.forEach((b, i) => {
    if (maybeShipped(b.id))
      found.say(['boards', i, 'id'], `"${b.id}" is the name of a shipped board; give yours another`)
  })
  design.loads.forEach((load, i) =>
    found.refers(found.controllers, load.controllerId, 'controller', ['loads', i, 'controllerId']),
  )
  lampProblems(found)
  expanderProblems(found)
  regulatorProblems(found)
}

function lampProblems(found: Problems): void {
  const { design } = found
  const at = (i: number, j: number): Path => ['controllers', i, 'lamps', j]
  found.unique(
    design.controllers.flatMap((c, i) =>
      c.lamps.map((l, j) => ({ id: l.id, path: [...at(i, j), 'id'] })),
    ),
    'lamp',
  )
  design.controllers.forEach((c, i) =>
    c.lamps.forEach((lamp, j) => {
      if (lamp.shows !== 'link') return
      const link = design.links.find(l => l.id === lamp.linkId)
      found.refers(found.links, lamp.linkId, 'link', [...at(i, j), 'linkId'])
      if (link && !linksShown(design, c.id).includes(link))
        found.say(
          [...at(i, j), 'linkId'],
          `"${link.id}" is a link of another controller; a lamp shows those of its own, and those over which it asks`,
        )
    }),
  )
}

function expanderProblems(found: Problems): void {
  const { design } = found
  found.unique(
    design.controllers.flatMap((c, i) =>
      c.expanders.map((e, j) => ({ id: e.id, path: ['controllers', i, 'expanders', j, 'id'] })),
    ),
    'expander',
  )
  design.controllers.forEach((c, i) =>
    c.expanders.forEach((e, j) => {
      const other = c.expanders
        .slice(0, j)
        .find(o => o.firstPin < e.firstPin + e.pins && e.firstPin < o.firstPin + o.pins)
      if (other)
        found.say(
          ['controllers', i, 'expanders', j, 'firstPin'],
          `pins ${e.firstPin} to ${e.firstPin + e.pins - 1} overlap those of "${other.id}"; begin at ${other.firstPin + other.pins}`,
        )
    }),
  )
}

/** What feeds something stands before it, so that no chain bites its tail. */
function regulatorProblems(found: Problems): void {
  const { design } = found
  const known = found.unique(indexed(design.regulators, 'regulators'), 'regulator')
  const refers = (id: string | null, path: Path) => {
    if (id !== null) found.refers(known, id, 'regulator', path)
  }
  design.regulators.forEach((r, i) => {
    const path: Path = ['regulators', i, 'fedBy']
    refers(r.fedBy, path)
    const at = design.regulators.findIndex(o => o.id === r.fedBy)
    if (at >= i)
      found.say(path, `"${r.fedBy}" stands after "${r.id}"; what feeds it has to stand before it`)
  })
  design.controllers.forEach((c, i) => refers(c.fedBy, ['controllers', i, 'fedBy']))
  design.loads.forEach((l, i) => refers(l.wiring.fedBy, ['loads', i, 'wiring', 'fedBy']))
}
