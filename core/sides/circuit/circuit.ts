/** The circuit of a board: one sheet a function, a row for whatever hangs on a pin. */
import { wiredControls } from '../../design/wired'
import type { Design } from '../../design/schema'
import { sumsOf } from '../../electrical/of-design'
import { loadRows } from './load-rows'
import { Names, type Circuit, type Row } from './model'
import { linkRows, supplyRows } from './other-rows'
import { readRows } from './sensor-rows'

/** The whole circuit of a design of one controller. */
export function circuitOf(design: Design): Circuit {
  const making = { design, names: new Names(), sums: sumsOf(design) }
  const reads = wiredControls(design).length + design.sensors.length > 0
  const sheets: { title: string; rows: Row[] }[] = [
    { title: 'what the board switches', rows: loadRows(making) },
    { title: reads ? 'what the board reads' : '', rows: readRows(making) },
    { title: 'links, lamps and further pins', rows: linkRows(making) },
    { title: 'what feeds it', rows: supplyRows(making) },
  ]
  return { sheets: sheets.filter(s => s.rows.length) }
}
