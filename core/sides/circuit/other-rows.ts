/** What the board speaks over, lamps and expanders, and what feeds it all. */
import { EXPANDERS } from '../../boards/expanders'
import { boardOf, frontOf, needs, pinLabel, type Need } from '../../design/pins'
import { hasModule } from '../../design/links/traits'
import { linkOf, expandersOf, lampsOf } from '../../design/find'
import { wholeOf } from '../../design/part'
import { lampOhms } from '../../electrical/lamp'
import { allFed, total } from '../../electrical/supply-chain'
import { showQuantity } from '../../units/quantity'
import { logicNet, supplyNet, type Making } from './load-rows'
import { GROUND, RowMaker, type Pin, type Row } from './model'
import { ohms, pinsOf } from './pins-of'
import type { BoxShape, Point } from './symbols'
import { nth } from '../../units/lists'

/** Lines to a module or another board; those to a lower voltage go through a divider. */
export function linkRows(making: Making): Row[] {
  const { design, names } = making
  const all = needs(design)
  const board = boardOf(design)
  const rows: Row[] = []
  for (const linkId of new Set(all.flatMap(n => (n.linkId === null ? [] : [n.linkId])))) {
    const mine = all.filter(n => n.linkId === linkId)
    const link = linkOf(wholeOf(design), linkId)
    const module = hasModule(link)
    rows.push(
      busRow(making, {
        title: link.name,
        mine,
        lines: [link.name, module ? 'serial Bluetooth module, 3.3 V inside' : 'the other side'],
        supply: module ? supplyNet(design.supply.volts) : null,
        divides: module && board.logicVolts > 3.6,
      }),
    )
  }
  const { front } = design
  const ahead = frontOf(design)
  if (front && ahead)
    rows.push(
      busRow(making, {
        title: front.name,
        mine: all.filter(n => n.id.startsWith('front:')),
        lines: [front.name, `${ahead.name}, ${front.baud} baud`],
        supply: supplyNet(design.supply.volts),
        divides: front.shift === 'divider' && board.logicVolts > ahead.logicVolts + 0.2,
        shifts: front.shift === 'shifter',
      }),
    )
  for (const lamp of lampsOf(design)) {
    const need = all.find(n => n.id === `lamp:${lamp.id}`)
    if (!need) continue
    const row = new RowMaker(names, lamp.name)
    const [pin] = pinsOf(making, [need], () => 'drives') as [Pin]
    const [inner, high] = [names.net(), lamp.activeLevel === 'high']
    row.pin(pin).wire(pin.net, [0, 0], [50, 0])
    const value = ohms(lampOhms(board.logicVolts))
    row.two('resistor', 'R', [50, 0], [pin.net, inner], { value, words: 'resistor' })
    row.wire(inner, [100, 0], [130, 0])
    const logic = logicNet(design)
    if (high) row.two('ledRight', 'H', [130, 0], [inner, GROUND], { words: 'light-emitting diode' })
    else row.two('led', 'H', [130, 0], [inner, logic], { words: 'light-emitting diode' })
    row.wire(high ? GROUND : logic, [180, 0], [200, 0], [200, high ? 12 : -12])
    if (high) row.ground([200, 12])
    else row.flag(logic, [200, -12])
    rows.push(row.row)
  }
  for (const e of expandersOf(design))
    rows.push(
      busRow(making, {
        title: e.name,
        mine: all.filter(n => n.id.startsWith(`expander:${e.id} `)),
        lines: [
          e.name,
          `pins ${pinLabel(design, e.firstPin)} to ${pinLabel(design, e.firstPin + e.pins - 1)}`,
        ],
        supply: logicNet(design),
        divides: false,
        pulls: e.kind === 'shift' ? ['enable'] : ['data', 'clock'],
        pullOhms: EXPANDERS[e.kind].pullOhms,
      }),
    )
  return rows
}

interface Bus {
  title: string
  mine: readonly Need[]
  lines: readonly string[]
  supply: string | null
  divides: boolean
  shifts?: boolean
  /** Which lines are pulled up, by their names, and by what, Ω. */
  pulls?: readonly string[]
  pullOhms?: number
}

function busRow(making: Making, bus: Bus): Row {
  const row = new RowMaker(making.names, bus.title)
  const tight = bus.pulls ? 90 : 44
  const spacing = bus.divides ? 100 : tight
  const sends = (n: Need) => n.use.as.endsWith('out') || n.use.as === 'bus'
  const pins = pinsOf(making, bus.mine, n => (sends(n) ? 'drives' : 'reads'), spacing)
  const last = pins.at(-1)?.y ?? 0
  const terminals: Record<string, Point> = { GND: [200, last + 72] }
  const nets: Record<string, string> = { GND: GROUND }
  const drives: string[] = []
  pins.forEach((pin, i) => {
    const need = nth(bus.mine, i)
    row.pin(pin)
    const name = need.what.split(', ').at(-1) ?? ''
    let net = pin.net
    if (sends(need) && bus.divides) net = divided(row, pin, making)
    else row.wire(net, [0, pin.y], [230, pin.y])
    if (bus.pulls?.includes(name)) {
      const logic = logicNet(making.design)
      row.wire(net, [120, pin.y], [120, pin.y - 10])
      row.two('resistor', 'R', [120, pin.y - 60], [logic, net], {
        ...{ down: true, value: ohms(bus.pullOhms ?? null), words: 'resistor' },
      })
      row.flag(logic, [120, pin.y - 60])
    }
    terminals[name] = [0, pin.y + 36]
    nets[name] = net
    if (!sends(need)) drives.push(name)
  })
  const height = last + 72
  if (bus.supply !== null) {
    terminals['+'] = [200, 0]
    nets['+'] = bus.supply
    row.flag(bus.supply, [430, -36])
  }
  const box = { width: 400, height, lines: bus.lines, terminals }
  row.box('U', [230, -36], box, nets, { words: bus.lines[1] ?? '', drives })
  row.ground([430, height - 36])
  if (bus.shifts) row.note('Through a level shifter, both lines.')
  return row.row
}

function divided(row: RowMaker, { net, y }: Pin, { names }: Making): string {
  const inner = names.net()
  row.wire(net, [0, y], [40, y])
  row.two('resistor', 'R', [40, y], [net, inner], { value: '1 kΩ', words: 'resistor' })
  row.wire(inner, [90, y], [230, y])
  row.wire(inner, [130, y], [130, y + 6])
  row.two('resistor', 'R', [130, y + 6], [inner, GROUND], {
    ...{ down: true, value: '2 kΩ', words: 'resistor' },
  })
  row.ground([130, y + 56])
  return inner
}

/** From the supply through every regulator to the board. */
export function supplyRows({ design, names }: Making): Row[] {
  const feed = supplyNet(design.supply.volts)
  const fed = allFed(design)
  const row = new RowMaker(names, 'Supply')
  const box: BoxShape = {
    width: 190,
    height: 60,
    lines: [
      'supply',
      `${showQuantity(design.supply.volts, 'V')}, ${showQuantity(design.supply.amps, 'A')}`,
    ],
    terminals: { '+': [95, 0], GND: [95, 60] },
  }
  row.box('P', [20, -30], box, { '+': feed, GND: GROUND }, { words: 'supply', drives: ['+'] })
  row.flag(feed, [115, -30]).ground([115, 30])
  row.note(`${showQuantity(total(fed, null), 'A')} with everything on.`)
  const board = new RowMaker(names, design.controllers[0]?.name ?? 'Board')
  const fedBy = design.controllers[0]?.fedBy ?? null
  const own = design.regulators.find(r => r.id === fedBy)
  const boardFeed = own ? supplyNet(own.volts) : feed
  const logic = logicNet(design)
  const same = logic === boardFeed
  const boardBox: BoxShape = {
    width: 340,
    height: 60,
    lines: [boardOf(design).name, same ? 'fed here' : `makes ${logic} of it`],
    terminals: same
      ? { '+': [60, 0], GND: [130, 60] }
      : { '+': [60, 0], GND: [130, 60], '+logic': [200, 0] },
  }
  const nets = { '+': boardFeed, GND: GROUND, ...(same ? {} : { '+logic': logic }) }
  board.box('U', [20, -30], boardBox, nets, { words: 'board', drives: same ? [] : ['+logic'] })
  board.flag(boardFeed, [80, -30]).ground([150, 30])
  if (!same) board.flag(logic, [220, -30])
  return [
    row.row,
    ...design.regulators.map(r => {
      const made = new RowMaker(names, r.name)
      const from = design.regulators.find(o => o.id === r.fedBy)
      const input = from ? supplyNet(from.volts) : feed
      const shape: BoxShape = {
        width: 190,
        height: 60,
        lines: [
          `${r.kind} regulator`,
          `${showQuantity(r.volts, 'V')}, ${showQuantity(r.maxAmps, 'A')}`,
        ],
        terminals: { '+': [40, 0], '+out': [150, 0], GND: [95, 60] },
      }
      made.box(
        'U',
        [20, -30],
        shape,
        { '+': input, '+out': supplyNet(r.volts), GND: GROUND },
        {
          ...{ words: `${r.kind} regulator`, drives: ['+out'] },
        },
      )
      made.flag(input, [60, -30]).flag(supplyNet(r.volts), [170, -30]).ground([115, 30])
      made.note(`${showQuantity(total(fed, r.id), 'A')} with everything on.`)
      return made.row
    }),
    board.row,
  ]
}
