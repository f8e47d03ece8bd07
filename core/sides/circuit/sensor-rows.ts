/** What the board reads: hand controls and sensors, a row of the table for each kind of sensor. */
import { needs, type Need } from '../../design/pins'
import type { Sensor, SensorKind, SensorOf } from '../../design/schema'
import { wiredControls } from '../../design/wired'
import { showQuantity } from '../../units/quantity'
import { logicNet, type Making } from './load-rows'
import { GROUND, RowMaker, type Pin, type Row } from './model'
import { ohms, pinsOf } from './pins-of'
import type { BoxShape, Point } from './symbols'

interface Contact {
  symbol: 'push' | 'lever' | 'contact' | 'float'
  pullOhms: number | null
  leadMeters: number
  words: string
}

/** A contact to ground with its pull-up, inside the board or beside it. */
function contactRow(making: Making, need: Need, of: Contact): Row {
  const row = new RowMaker(making.names, need.what)
  const own = of.pullOhms !== null
  const [pin] = pinsOf(making, [need], () => (own ? 'reads' : 'pulls')) as [Pin]
  const { net } = pin
  row.pin(pin)
  row.wire(net, [0, 0], [60, 0])
  if (of.pullOhms !== null) {
    const logic = logicNet(making.design)
    row.wire(net, [60, 0], [60, -14])
    row.two('resistor', 'R', [60, -64], [logic, net], {
      ...{ down: true, value: ohms(of.pullOhms), words: 'resistor' },
    })
    row.flag(logic, [60, -64])
  } else row.note('Pulled up inside the board.')
  row.lead(net, `${showQuantity(of.leadMeters, 'm')} of lead`, [60, 0], [260, 0])
  row.two(of.symbol, 'S', [260, 0], [net, GROUND], { words: of.words })
  row.wire(GROUND, [320, 0], [340, 0], [340, 12]).ground([340, 12])
  const sum = making.sums.find(s => s.controlId !== null && s.controlId === need.controlId)?.sum
  const amps = sum?.figures.find(f => f.unit === 'A')
  if (amps) row.note(`${showQuantity(amps.value, 'A')} through the contact.`)
  return row.row
}

/** Hand controls and sensors. */
export function readRows(making: Making): Row[] {
  const { design } = making
  const all = needs(design)
  const controls = wiredControls(design).flatMap(({ control }) => {
    const need = all.find(n => n.controlId === control.id)
    if (!need) return []
    const push = control.kind === 'push'
    return [
      contactRow(making, need, {
        symbol: push ? 'push' : 'lever',
        pullOhms: control.pullOhms,
        leadMeters: control.leadMeters,
        words: push ? 'push button' : 'latching switch',
      }),
    ]
  })
  const sensors = design.sensors.flatMap(sensor => {
    const mine = all.filter(n => n.sensorId === sensor.id)
    const way = (SENSORS[sensor.kind] as (sensor: Sensor) => Contact | Draw)(sensor)
    if (typeof way !== 'function') return mine.map(need => contactRow(making, need, way))
    const row = new RowMaker(making.names, sensor.name)
    const pins = pinsOf(making, mine, () => 'reads', 70)
    for (const pin of pins) row.pin(pin)
    way({ row, pins, net: pins[0]?.net ?? '', logic: logicNet(design) })
    return [row.row]
  })
  return [...controls, ...sensors]
}

interface Drawing {
  row: RowMaker
  pins: readonly Pin[]
  /** Of its first pin, and of the supply that pins work with. */
  net: string
  logic: string
}
type Draw = (drawing: Drawing) => void

/** Each line a contact to ground, or a drawing of its own. */
const SENSORS: { [K in SensorKind]: (sensor: SensorOf<K>) => Contact | Draw } = {
  contact: ({ pullOhms, leadMeters }) => ({
    ...{ symbol: 'contact', pullOhms, leadMeters, words: 'contact' },
  }),
  floats: ({ leadMeters }) => ({
    ...{ symbol: 'float', pullOhms: null, leadMeters, words: 'float contact' },
  }),
  knob: ({ leadMeters }) => ({
    ...{ symbol: 'contact', pullOhms: null, leadMeters, words: 'line of a rotary encoder' },
  }),
  infrared: sensor => drawing => module(drawing, sensor.name, 'infrared receiver', null),
  thermometer: sensor => drawing => module(drawing, sensor.name, 'one line', sensor.pullOhms),
  thermistor:
    sensor =>
    ({ row, net, logic }) => {
      divider(row, net, { upper: sensor.seriesOhms, from: logic })
      row.wire(net, [60, 0], [60, 20])
      row.two('thermistor', 'R', [60, 20], [net, GROUND], {
        ...{ down: true, value: ohms(sensor.ohmsAt25), words: 'thermistor' },
      })
      row.ground([60, 70])
      buffer(row, net, 60)
    },
  battery:
    sensor =>
    ({ row, net }) => {
      divider(row, net, { upper: sensor.upperOhms, lower: sensor.lowerOhms, from: 'battery +' })
      battery(row)
    },
  analog:
    sensor =>
    ({ row, net }) => {
      if (!sensor.divider) {
        row.wire(net, [0, 0], [200, 0])
        source(row, sensor.name, [200, -28], net, 28)
        buffer(row, net, 200)
        return
      }
      const { upperOhms: upper, lowerOhms: lower } = sensor.divider
      divider(row, net, { upper, lower, from: `${sensor.name} +` })
      row.wire(`${sensor.name} +`, [60, -64], [230, -64], [230, -30])
      source(row, sensor.name, [200, -30], `${sensor.name} +`)
      buffer(row, net, 60)
    },
  'two-axis':
    sensor =>
    ({ row, pins, logic }) =>
      stick(row, pins, logic, sensor.name),
}

function divider(
  row: RowMaker,
  net: string,
  { upper, lower, from }: { upper: number; lower?: number; from: string },
): void {
  row.wire(net, [0, 0], [60, 0], [60, -14])
  row.two('resistor', 'R', [60, -64], [from, net], {
    ...{ down: true, value: ohms(upper), words: 'resistor' },
  })
  if (from.startsWith('+')) row.flag(from, [60, -64])
  if (lower === undefined) return
  row.wire(net, [60, 0], [60, 20])
  row.two('resistor', 'R', [60, 20], [net, GROUND], {
    ...{ down: true, value: ohms(lower), words: 'resistor' },
  })
  row.ground([60, 70])
}

/** A capacitor at the pin; `from` where the line ends so far. */
function buffer(row: RowMaker, net: string, from: number): void {
  row.wire(net, ...(from < 150 ? ([[from, 0]] as const) : []), [150, 0], [150, 20])
  row.two('capacitor', 'C', [150, 20], [net, GROUND], {
    ...{ down: true, value: '100 nF', words: 'capacitor' },
  })
  row.ground([150, 70])
}

function battery(row: RowMaker): void {
  row.wire('battery +', [60, -64], [170, -64])
  row.two('fuse', 'F', [170, -64], ['battery +', 'battery'], { value: '100 mA', words: 'fuse' })
  row.wire('battery', [220, -64], [300, -64], [300, -40])
  row.two('battery', 'B', [300, -40], ['battery', GROUND], { down: true, words: 'battery' })
  row.ground([300, 10])
}

/** Something that puts out a voltage. */
function source(row: RowMaker, name: string, at: Point, net: string, y = 0): void {
  const box: BoxShape = {
    width: 150,
    height: 56,
    lines: [name, 'puts out a voltage'],
    terminals: y ? { '': [0, y], GND: [75, 56] } : { '': [30, 0], GND: [75, 56] },
  }
  row.box('U', at, box, { '': net, GND: GROUND }, { words: name, drives: [''] })
  row.ground([at[0] + 75, at[1] + 56])
}

function stick(row: RowMaker, pins: readonly Pin[], logic: string, name: string): void {
  const height = 70 * (pins.length - 1) + 56
  const terminals: Record<string, Point> = { '+': [75, 0], GND: [75, height] }
  const nets: Record<string, string> = { '+': logic, GND: GROUND }
  pins.forEach(({ y, net }, i) => {
    const slider = i === 0 ? 'x' : 'y'
    row.wire(net, [0, y], [160, y])
    terminals[slider] = [0, y + 28]
    nets[slider] = net
  })
  const box = { width: 150, height, lines: [name, 'sliders of 10 kΩ'], terminals }
  row.box('U', [160, -28], box, nets, { words: 'two-axis stick', drives: ['x', 'y'] })
  row.flag(logic, [235, -28]).ground([235, height - 28])
}

/** A sensor on a module of its own, one line to the board; `pullOhms`: what pulls the line up. */
function module(
  { row, net, logic }: Drawing,
  name: string,
  words: string,
  pullOhms: number | null,
): void {
  const pulled = pullOhms !== null
  row.wire(net, [0, 0], [60, 0])
  if (pulled) {
    row.wire(net, [60, 0], [60, -14])
    row.two('resistor', 'R', [60, -64], [logic, net], {
      ...{ down: true, value: ohms(pullOhms), words: 'resistor' },
    })
    row.flag(logic, [60, -64])
  }
  row.wire(net, [60, 0], [200, 0])
  const box: BoxShape = {
    width: 170,
    height: 56,
    lines: [name, words],
    terminals: { '': [0, 28], '+': [85, 0], GND: [85, 56] },
  }
  const drives = pulled ? [] : ['']
  row.box('U', [200, -28], box, { '': net, '+': logic, GND: GROUND }, { words, drives })
  row.flag(logic, [285, -28]).ground([285, 28])
}
