/**
 * All sums of a design: each beside the part it belongs to, with the inputs it was given and an
 * edit where one helps.
 */
import type { BoardProfile } from '../boards/schema'
import { hasSpeed } from '../design/links/traits'
import { boardOf, frontOf } from '../design/pins'
import type { Control, Design } from '../design/schema'
import { showQuantity } from '../units/quantity'
import { LEVEL_SHIFT_DEFAULTS, levelShift } from './level-shift'
import { loadSums, type Counted } from './load-sums'
import { PULL_UP_DEFAULTS, pullUp } from './pull-up'
import { sensorSums } from './sensor-sums'
import { uartClock } from './uart-clock'
import { made, strongerPull, wettingAmps, type WiringSum } from './wiring-sum'
import { classOf } from '../boards/classes'
import { wiredControls } from '../design/wired'
import { supplySums } from './supply-chain'
import { pinSums } from './pin-sums'

/**
 * `counted`: switchings of a bench run, from which the wear of memory is reckoned; without it a
 * number is assumed.
 */
export function sumsOf(design: Design, counted: Counted | null = null): WiringSum[] {
  return [
    ...supplySums(design),
    ...pinSums(design),
    ...design.loads.flatMap((load, i) => loadSums(design, load, `/loads/${i}/wiring`, counted)),
    ...wiredControls(design).map(({ control, path }) => controlSum(design, control, path)),
    ...design.sensors.flatMap((sensor, i) => sensorSums(design, sensor, `/sensors/${i}`)),
    ...design.links.flatMap((link, i) =>
      hasSpeed(link)
        ? clockSums(`link:${link.id}`, `/links/${i}`, link.baud, [boardOf(design)])
        : [],
    ),
    ...frontSums(design),
  ]
}

function controlSum(design: Design, control: Control, path: string): WiringSum {
  const board = boardOf(design)
  const ohms = control.pullOhms ?? board.pullUpOhms
  return made(
    {
      id: `control:${control.id} pull-up`,
      kind: 'pull-up',
      title: 'Pull-up',
      path,
      controlId: control.id,
      loadId: control.loadId,
      given: [
        `${showQuantity(ohms, 'Ω')}${control.pullOhms === null ? ' in the board' : ''} to ${showQuantity(board.logicVolts, 'V')}`,
        `lead of ${showQuantity(control.leadMeters, 'm')}`,
      ],
    },
    () =>
      pullUp({
        ...PULL_UP_DEFAULTS,
        supplyVolts: board.logicVolts,
        pullOhms: ohms,
        leadMeters: control.leadMeters,
        wettingAmps: wettingAmps(control.leadMeters),
      }),
    () =>
      strongerPull(ohms, board.logicVolts, pullOhms => ({
        type: 'setControl',
        controlId: control.id,
        patch: { pullOhms },
      })),
  )
}

function clockSums(
  id: string,
  path: string,
  baud: number,
  boards: readonly BoardProfile[],
): WiringSum[] {
  return boards.flatMap((board, i) => {
    const clock = classOf(board).uart
    if (!clock) return []
    return [
      made(
        {
          id: `${id} uart-clock${i ? ` ${i}` : ''}`,
          kind: 'uart-clock',
          title:
            boards.length > 1
              ? `Speed of the wire, ${i ? 'board in front' : 'controller'}`
              : 'Speed of the serial port',
          path,
          given: [`${baud} baud from ${showQuantity(clock.clockHz, 'Hz')}`, board.name],
        },
        () => uartClock({ ...clock, baud }),
      ),
    ]
  })
}

/** The wire to a board in front: voltages both ways, and both clocks. */
function frontSums(design: Design): WiringSum[] {
  const { front } = design
  const ahead = frontOf(design)
  if (!front || !ahead) return []
  const board = boardOf(design)
  const [higher, lower] = board.logicVolts >= ahead.logicVolts ? [board, ahead] : [ahead, board]
  const through =
    front.shift === 'divider'
      ? { upperOhms: 1000, lowerOhms: 2000 }
      : { upperOhms: 0, lowerOhms: 1e8 }
  const apart = higher.logicVolts > lower.logicVolts + 0.2
  return [
    ...clockSums('front', '/front/baud', front.baud, [board, ahead]),
    ...(apart && front.shift !== 'shifter'
      ? [
          made(
            {
              id: 'front level-shift',
              kind: 'level-shift',
              title: 'Wire between two voltages',
              path: '/front/shift',
              given: [
                `${showQuantity(higher.logicVolts, 'V')} to ${showQuantity(lower.logicVolts, 'V')}, which takes ${showQuantity(lower.inputMaxVolts, 'V')} at most`,
                front.shift === 'divider' ? 'divider of 1 kΩ and 2 kΩ' : 'nothing between',
              ],
            },
            () =>
              levelShift({
                ...LEVEL_SHIFT_DEFAULTS,
                ...through,
                highVolts: higher.logicVolts,
                lowVolts: lower.logicVolts,
                lowMaxVolts: lower.inputMaxVolts,
                baud: front.baud,
              }),
            () =>
              front.shift === 'none'
                ? [
                    {
                      words: 'Put a divider between',
                      edit: { type: 'setFront', front: { shift: 'divider' } },
                    },
                  ]
                : [
                    {
                      words: 'Put a level shifter between',
                      edit: { type: 'setFront', front: { shift: 'shifter' } },
                    },
                  ],
          ),
        ]
      : []),
  ]
}
