/** What a design needs pins for, where it has them, and which would be best. */
import { assignPins, type Assignment, type PinNeed } from '../boards/assign'
import { maybeShipped, pinOf, SHIPPED } from '../boards/boards'
import type { PinUse } from '../boards/hazards'
import type { BoardProfile } from '../boards/schema'
import { withExpanders } from '../boards/expanders'
import type { Control, Controller, Design, Expander } from './schema'
import { sensorLines } from './sensors/rows'
import { linesOf } from './values'
import { boxesOf } from './boxes'
import { expandersOf, lampsOf, linkOf } from './find'
import { hasSpeed } from './links/traits'
import { wiredControls, type WiredControl } from './wired'
import { inWhole, wholeOf } from './part'
import type { PinLine } from './outputs/facet'
import { linkRow } from './links/rows'

export interface Need extends PinNeed {
  /** JSON Pointer of the pin, or of the link for the two serial lines. */
  path: string
  /** -1 where the board has no such pin. */
  chip: number
  loadId: string | null
  /** Which line of its load, where it is one. */
  line: PinLine['key'] | null
  controlId: string | null
  linkId: string | null
  sensorId: string | null
  /** Given by the board, not chosen: the lines of its serial port. */
  fixed: boolean
}

/**
 * The board of the first controller, with the pins of its expanders. Throws `RangeError` where it
 * is not known.
 */
export function boardOf(design: Design): BoardProfile {
  const board = profileOf(design)
  const expanders = expandersOf(design)
  return expanders.length ? expanded(board, expanders) : board
}

/** The profile of the first controller, without its expanders. Throws as above. */
export function profileOf(design: Design): BoardProfile {
  const id = design.controllers[0]?.board ?? ''
  const board = design.boards.find(b => b.id === id) ?? maybeShipped(id)
  if (!board) throw new RangeError(`no board profile "${id}"`)
  return board
}

/** Made once for each list of expanders, for it is asked for again and again. */
function expanded(board: BoardProfile, expanders: Controller['expanders']): BoardProfile {
  const known = EXPANDED.get(expanders)
  if (known?.board === board) return known.whole
  const whole = withExpanders(board, expanders)
  EXPANDED.set(expanders, { board, whole })
  return whole
}
const EXPANDED = new WeakMap<object, { board: BoardProfile; whole: BoardProfile }>()

/** The board in front, where there is one. */
export function frontOf(design: Design): BoardProfile | null {
  const id = design.front?.board
  return id === undefined
    ? null
    : (design.boards.find(b => b.id === id) ?? maybeShipped(id) ?? null)
}

/**
 * In the order of the sheet: loads, hand controls, sensors, links, the wire to a board in front.
 */
export function needs(design: Design): Need[] {
  const serial = serialPins(boardOf(design))
  const controls = wiredControls(design)
  const manyHands = design.surfaces.filter(s => s.kind === 'hand').length > 1
  return [
    ...design.loads.flatMap((load, i) =>
      linesOf(load.output).map(line =>
        need({
          id: `load:${load.id}${line.key === 'pin' ? '' : ` ${line.key}`}`,
          what: line.name ? `${load.name}, ${line.name}` : load.name,
          use: line.use,
          path: `/loads/${i}/output/${line.key}`,
          chip: line.pin,
          loadId: load.id,
          line: line.key,
        }),
      ),
    ),
    ...controls.map(({ control, surface, loadName, afar, path }) =>
      need({
        id: `control:${control.id}`,
        what: `${loadName}, ${controlWords(controls, control)}${manyHands || afar ? ` (${surface.name})` : ''}`,
        use: controlUse(control),
        path: `${path}/pin`,
        chip: control.pin,
        loadId: control.loadId,
        controlId: control.id,
      }),
    ),
    ...design.sensors.flatMap((sensor, i) =>
      sensorLines(sensor).map(line =>
        need({
          id: `sensor:${sensor.id}${line.key === 'pin' ? '' : ` ${line.key}`}`,
          what: line.name ? `${sensor.name}, ${line.name}` : sensor.name,
          use: line.use,
          path: `/sensors/${i}/${line.key}`,
          chip: line.pin,
          sensorId: sensor.id,
        }),
      ),
    ),
    ...design.links.flatMap((l, i) =>
      linkRow(l)
        .pins(l, serial)
        .map(({ key, id, what, use, pin }) =>
          need({
            id: `${id}:${l.id}`,
            what: `${l.name}, ${what}`,
            use,
            path: key ? `/links/${i}/${key}` : `/links/${i}`,
            chip: pin,
            linkId: l.id,
            ...(key ? {} : { fixed: true }),
          }),
        ),
    ),
    ...lampNeeds(design),
    ...expanderNeeds(design),
    ...wiresOfBoxes(design, serial),
    ...(design.front
      ? [
          need({
            id: 'front:receive',
            what: `${design.front.name}, hears`,
            use: { as: 'wire-in' },
            path: '/front/receivePin',
            chip: design.front.receivePin,
          }),
          need({
            id: 'front:send',
            what: `${design.front.name}, tells`,
            use: { as: 'wire-out' },
            path: '/front/sendPin',
            chip: design.front.sendPin,
          }),
        ]
      : []),
  ]
}

function lampNeeds(design: Design): Need[] {
  return lampsOf(design).map((lamp, i) =>
    need({
      id: `lamp:${lamp.id}`,
      what: lamp.name,
      use: { as: 'output', activeLevel: lamp.activeLevel },
      path: `/controllers/0/lamps/${i}/pin`,
      chip: lamp.pin,
    }),
  )
}

/** A line by which a board speaks to an expander, and where its pin stands in it. */
interface ExpanderLine {
  key: 'dataPin' | 'clockPin' | 'latchPin' | 'enablePin'
  name: string
  pin: number
}

/** The lines of an expander, in a fixed order. */
export function expanderLines(e: Expander): ExpanderLine[] {
  const bus: ExpanderLine[] = [
    { key: 'dataPin', name: 'data', pin: e.dataPin },
    { key: 'clockPin', name: 'clock', pin: e.clockPin },
  ]
  if (e.kind !== 'shift') return bus
  bus.push({ key: 'latchPin', name: 'latch', pin: e.latchPin })
  if (e.enablePin !== null) bus.push({ key: 'enablePin', name: 'enable', pin: e.enablePin })
  return bus
}

function expanderNeeds(design: Design): Need[] {
  return expandersOf(design).flatMap((e, i) =>
    expanderLines(e).map(({ key, name, pin }) =>
      need({
        id: `expander:${e.id} ${name}`,
        what: `${e.name}, ${name}`,
        use: { as: 'bus' },
        path: `/controllers/0/expanders/${i}/${key}`,
        chip: pin,
      }),
    ),
  )
}

/** The serial port of a board that asks another over a wire. */
function wiresOfBoxes(design: Design, serial: ReturnType<typeof serialPins>): Need[] {
  const whole = wholeOf(design)
  return boxesOf(whole, design.controllers[0]?.id ?? '').flatMap(box => {
    const link = linkOf(whole, box.linkId)
    if (!hasSpeed(link)) return []
    const path = inWhole(`/links/${whole.links.indexOf(link)}`)
    const of = { path, linkId: link.id, fixed: true }
    return [
      need({
        ...of,
        id: `box-receive:${box.id}`,
        what: `${box.name}, hears`,
        use: { as: 'serial-in' },
        chip: serial?.receive ?? -1,
      }),
      need({
        ...of,
        id: `box-send:${box.id}`,
        what: `${box.name}, tells`,
        use: { as: 'serial-out' },
        chip: serial?.send ?? -1,
      }),
    ]
  })
}

/**
 * Whether each line of a load has a pin of the board that serves nothing else. `design`: of one
 * controller.
 */
export function isWired(design: Design, loadId: string): boolean {
  const all = needs(design)
  const board = boardOf(design)
  return all
    .filter(n => n.loadId === loadId && n.line !== null)
    .every(n => pinOf(board, n.chip) !== undefined && !all.some(o => o !== n && o.chip === n.chip))
}

export const SENSE: PinUse = { as: 'sense' }
/** What a hand control needs of its pin. */
export function controlUse(control: Pick<Control, 'kind'>): PinUse {
  return { as: 'contact', rests: control.kind === 'push' ? 'open' : 'either' }
}

/** The pins of the serial port that a link uses: one apart from uploads where there is one. */
export function serialPins(board: BoardProfile): { receive: number; send: number } | null {
  const best = (ability: 'serial-in' | 'serial-out') => {
    const able = board.pins.filter(p => p.can.includes(ability))
    return able.find(p => !p.hazards.some(h => h.kind === 'upload')) ?? able[0]
  }
  const receive = best('serial-in')
  const send = best('serial-out')
  return receive && send ? { receive: receive.chip, send: send.chip } : null
}

/**
 * Best pins. Needs that the maker keeps, and those the board gives, stay; so do the others when
 * `onlyFor` names some.
 */
export function bestPins(
  design: Design,
  onlyFor?: ReadonlySet<string>,
  extra: readonly PinNeed[] = [],
): Assignment {
  const all = needs(design)
  const board = boardOf(design)
  const kept = new Set(design.controllers[0]?.kept)
  // A pin that this board does not have cannot be kept.
  const stays = (n: Need) =>
    pinOf(board, n.chip) !== undefined
    && (n.fixed || kept.has(n.id) || (onlyFor !== undefined && !onlyFor.has(n.id)))
  return assignPins(board, [...all, ...extra], new Map(all.filter(stays).map(n => [n.id, n.chip])))
}

/**
 * The shipped board on which all needs find a pin, chosen anew, at least cost; of equal ones the
 * one with fewest pins.
 */
export function fittingBoard(design: Design): BoardProfile | undefined {
  const usable = (b: BoardProfile) => b.pins.filter(p => p.can.length).length
  const fits = SHIPPED.flatMap(board => {
    const moved: Design = {
      ...design,
      controllers: design.controllers.map(c => ({ ...c, board: board.id, kept: [] })),
    }
    const { unmet, cost } = bestPins(moved)
    return unmet.length === 0 && needs(moved).every(n => !n.fixed || n.chip >= 0)
      ? [{ board, cost }]
      : []
  })
  return fits.toSorted((a, b) => a.cost - b.cost || usable(a.board) - usable(b.board))[0]?.board
}

/** The best free pin for one more use; undefined when none is left. */
export function freePin(design: Design, use: PinUse): number | undefined {
  return bestPins(design, new Set(), [{ id: 'new', what: 'new', use }]).assigned.find(
    a => a.needId === 'new',
  )?.chip
}

/** How a pin is called on the board: "D5". */
export function pinLabel(design: Design, chip: number): string {
  return pinOf(boardOf(design), chip)?.label ?? `pin ${chip}`
}

function need(of: Pick<Need, 'id' | 'what' | 'use' | 'path' | 'chip'> & Partial<Need>): Need {
  return {
    loadId: null,
    line: null,
    controlId: null,
    linkId: null,
    sensorId: null,
    fixed: false,
    ...of,
  }
}

/** "button", or what it asks for where the load has several: "button for reverse". */
function controlWords(controls: readonly WiredControl[], control: Control): string {
  const word = control.kind === 'push' ? 'button' : 'switch'
  const several = controls.some(
    ({ control: c }) =>
      c.loadId === control.loadId && c.id !== control.id && c.asks !== control.asks,
  )
  return several ? `${word} for ${control.asks}` : word
}
