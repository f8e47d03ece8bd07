/** Controllers, their boards and pins. */
import { defineEdit } from './define'
import type { BoardProfile } from '../../boards/schema'
import { boardNameOf, controllerOf, EditRefused, needOf, setAt } from './parts'
import { boxesOf } from '../boxes'
import { freshId } from '../ids'
import { partOf } from '../part'
import { pinLabel } from '../pins'

export const boardsEdits = {
  setBoard: defineEdit<{ board: string; controllerId?: string }>({
    apply: (d, a) => {
      controllerOf(d, a.controllerId).board = a.board
    },
    words: (d, a) =>
      `Board ${boardNameOf(d, controllerOf(d, a.controllerId).board)} becomes ${boardNameOf(d, a.board)}`,
  }),
  addController: defineEdit<{ name: string; board?: string }>({
    apply: (d, a) => {
      d.controllers.push({
        id: freshId(a.name, 'board', d.controllers),
        name: a.name,
        board: a.board ?? controllerOf(d).board,
        bootMs: controllerOf(d).bootMs,
        fedBy: null,
        lamps: [],
        expanders: [],
        kept: [],
      })
    },
    words: (_, a) => `Controller ${a.name} added`,
  }),
  renameController: defineEdit<{ controllerId: string; name: string }>({
    apply: (d, a) => {
      controllerOf(d, a.controllerId).name = a.name
    },
    words: (d, a) => `Controller ${controllerOf(d, a.controllerId).name} renamed to ${a.name}`,
  }),
  removeController: defineEdit<{ controllerId: string }>({
    apply: (d, a) => {
      const { id, name } = controllerOf(d, a.controllerId)
      const held = [...d.loads, ...d.links, ...d.sensors]
        .filter(x => x.controllerId === id)
        .map(x => x.name)
        .concat(boxesOf(d, id).map(s => s.name))
      if (held.length)
        throw new EditRefused(`${name} still has ${held.join(', ')}; remove them first`)
      if (d.controllers.length === 1) throw new EditRefused('a design has at least one controller')
      d.controllers = d.controllers.filter(c => c.id !== id)
      if (d.front?.controllerId === id) d.front = null
    },
    words: (d, a) => `Controller ${controllerOf(d, a.controllerId).name} removed`,
  }),
  putBoard: defineEdit<{ board: BoardProfile }>({
    apply: (d, a) => {
      const at = d.boards.findIndex(b => b.id === a.board.id)
      if (at >= 0) d.boards[at] = a.board
      else d.boards.push(a.board)
    },
    words: (d, a) =>
      `Board profile ${a.board.name} ${d.boards.some(b => b.id === a.board.id) ? 'changed' : 'taken in'}`,
  }),
  removeBoard: defineEdit<{ board: string }>({
    apply: (d, a) => {
      if (d.controllers.some(c => c.board === a.board) || d.front?.board === a.board)
        throw new EditRefused(`${boardNameOf(d, a.board)} is in use; take another board first`)
      if (!d.boards.some(b => b.id === a.board))
        throw new EditRefused(`no board "${a.board}" of your own`)
      d.boards = d.boards.filter(b => b.id !== a.board)
    },
    words: (d, a) => `Board profile ${boardNameOf(d, a.board)} removed`,
  }),
  keepPin: defineEdit<{ needId: string; kept: boolean }>({
    apply: (d, a) => {
      const controller = controllerOf(d, needOf(d, a.needId).controllerId)
      controller.kept = controller.kept.filter(id => id !== a.needId)
      if (a.kept) controller.kept.push(a.needId)
    },
    words: (d, a) =>
      `Pin of ${needOf(d, a.needId).what} ${a.kept ? 'kept where it is' : 'free to move'}`,
  }),
  setPins: defineEdit<{ pins: Record<string, number> }>({
    apply: (d, a) => {
      for (const [id, pin] of Object.entries(a.pins)) {
        const need = needOf(d, id)
        if (need.fixed) throw new EditRefused(`the pin of ${need.what} is given by the board`)
        setAt(d, need.path, pin)
      }
    },
    words: (d, a) =>
      `Pins: ${
        Object.entries(a.pins)
          .map(
            ([id, pin]) =>
              `${needOf(d, id).what} on ${pinLabel(partOf(d, needOf(d, id).controllerId), pin)}`,
          )
          .join(', ') || 'as they are'
      }`,
  }),
}
