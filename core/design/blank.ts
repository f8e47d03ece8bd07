/** An empty design to start from. */
import { DEFAULT_WIRES, DESIGN_FORMAT, DESIGN_VERSION, type Design } from './schema'

/** An empty design: one 8-bit board, nothing on it. */
export function blankDesign(id: string, name: string): Design {
  return {
    format: DESIGN_FORMAT,
    version: DESIGN_VERSION,
    id,
    name,
    place: '',
    controllers: [
      {
        id: 'board',
        name: 'Board',
        board: 'board-8bit-5v',
        bootMs: 1900,
        fedBy: null,
        lamps: [],
        expanders: [],
        kept: [],
      },
    ],
    boards: [],
    front: null,
    supply: { volts: 5, amps: 1 },
    regulators: [],
    wires: DEFAULT_WIRES,
    networks: [],
    loads: [],
    scenes: [],
    rules: [],
    sensors: [],
    surfaces: [],
    links: [],
  }
}
