/** Sums of a sensor: what feeds it, what it gives at the pin. */
import type { BoardProfile } from '../boards/schema'
import { boardOf } from '../design/pins'
import type { Design, Sensor, SensorOf } from '../design/schema'
import { preferredAbove, preferredNear } from '../units/e-series'
import { showQuantity } from '../units/quantity'
import { axes } from './axes'
import { calibration } from './calibration'
import { divider, DIVIDER_DEFAULTS } from './divider'
import { knob, KNOB_DEFAULTS } from './knob'
import { PULL_UP_DEFAULTS, pullUp } from './pull-up'
import { thermistor, THERMISTOR_DEFAULTS, thermistorOhms } from './thermistor'
import { made, strongerPull, wettingAmps, type Part, type WiringSum } from './wiring-sum'
import { isBattery, isThermometer } from '../design/sensors/traits'

interface At {
  board: BoardProfile
  of: (kind: string, title: string, given: string[]) => Part
}

/** All sums of a sensor; `path`: JSON Pointer of it. */
export function sensorSums(design: Design, sensor: Sensor, path: string): WiringSum[] {
  const of = (kind: string, title: string, given: string[]): Part => ({
    id: `sensor:${sensor.id} ${kind}`,
    kind,
    title,
    path,
    given,
    sensorId: sensor.id,
  })
  const sums = SENSORS[sensor.kind] as (sensor: Sensor, at: At) => WiringSum[]
  return sums(sensor, { board: boardOf(design), of })
}

const SENSORS: { [K in Sensor['kind']]: (sensor: SensorOf<K>, at: At) => WiringSum[] } = {
  infrared: () => [],
  knob: (sensor, at) => [
    made(
      at.of('knob', 'Knob', [
        `${sensor.detentsPerTurn} detents a turn, spun twice a second`,
        `debounce ${sensor.debounceMs} ms`,
      ]),
      () =>
        knob({
          ...KNOB_DEFAULTS,
          detentsPerTurn: sensor.detentsPerTurn,
          debounceSeconds: sensor.debounceMs / 1000,
        }),
      () => [
        {
          words: 'Take no debounce',
          edit: { type: 'setSensor', sensorId: sensor.id, patch: { debounceMs: 0 } },
        },
      ],
    ),
    pull(at, sensor, null, sensor.leadMeters),
  ],
  contact: (sensor, at) => [pull(at, sensor, sensor.pullOhms, sensor.leadMeters)],
  floats: (sensor, at) => [pull(at, sensor, null, sensor.leadMeters)],
  thermometer: (sensor, at) => [pull(at, sensor, sensor.pullOhms, sensor.leadMeters)],
  thermistor: (sensor, at) => [
    made(
      at.of('thermistor', 'Thermistor', [
        `${showQuantity(sensor.ohmsAt25, 'Ω')} at 25 °C, B ${sensor.beta}, at ${showQuantity(sensor.celsius, '°C')}`,
        `${showQuantity(sensor.seriesOhms, 'Ω')} to ${showQuantity(at.board.logicVolts, 'V')}, ${at.board.analogBits} bits`,
      ]),
      () =>
        thermistor({
          ...THERMISTOR_DEFAULTS,
          supplyVolts: at.board.logicVolts,
          seriesOhms: sensor.seriesOhms,
          ohmsAt25: sensor.ohmsAt25,
          beta: sensor.beta,
          celsius: sensor.celsius,
          bits: at.board.analogBits,
        }),
      () => [
        {
          words: 'Take the resistance there as series resistor',
          edit: {
            type: 'setSensor',
            sensorId: sensor.id,
            patch: {
              seriesOhms: preferredNear(
                thermistorOhms(sensor.ohmsAt25, sensor.beta, sensor.celsius),
              ),
            },
          },
        },
      ],
    ),
  ],
  battery: (sensor, at) => [
    divided(at, sensor, sensor.upperOhms, sensor.lowerOhms, sensor.maxVolts),
  ],
  analog: (sensor, at) => [
    ...(sensor.divider || sensor.maxVolts > at.board.inputMaxVolts
      ? [
          divided(
            at,
            sensor,
            sensor.divider?.upperOhms ?? 10,
            sensor.divider?.lowerOhms ?? 1e8,
            sensor.maxVolts,
          ),
        ]
      : []),
    ...(sensor.calibration
      ? [
          made(
            at.of('calibration', 'Calibration', [
              `reading ${sensor.calibration.raw1} is ${sensor.calibration.value1} ${sensor.unit}`.trim(),
              `reading ${sensor.calibration.raw2} is ${sensor.calibration.value2} ${sensor.unit}`.trim(),
            ]),
            () =>
              calibration({
                ...(sensor.calibration as NonNullable<typeof sensor.calibration>),
                bits: at.board.analogBits,
              }),
          ),
        ]
      : []),
  ],
  'two-axis': (sensor, at) =>
    sensor.degrees
      ? [
          made(
            at.of('axes', 'Axes turned back', [
              `mounted at ${sensor.degrees}°`,
              'for a push of 100 along its first axis',
            ]),
            () => axes({ degrees: sensor.degrees, x: 100, y: 0 }),
          ),
        ]
      : [],
}

/** The pull-up of a sensor that is a contact; `ohms`: null = in the board. */
function pull(
  { board, of }: At,
  sensor: Sensor,
  ohms: number | null,
  leadMeters: number,
): WiringSum {
  return made(
    of('pull-up', 'Pull-up', [
      `${showQuantity(ohms ?? board.pullUpOhms, 'Ω')}${ohms === null ? ' in the board' : ''} to ${showQuantity(board.logicVolts, 'V')}`,
      `lead of ${showQuantity(leadMeters, 'm')}`,
    ]),
    () =>
      pullUp({
        ...PULL_UP_DEFAULTS,
        supplyVolts: board.logicVolts,
        pullOhms: ohms ?? board.pullUpOhms,
        leadMeters,
        wettingAmps: isThermometer(sensor) ? 0 : wettingAmps(leadMeters),
      }),
    () =>
      'pullOhms' in sensor
        ? strongerPull(ohms ?? board.pullUpOhms, board.logicVolts, pullOhms => ({
            type: 'setSensor',
            sensorId: sensor.id,
            patch: { pullOhms },
          }))
        : [],
  )
}

function divided(
  { board, of }: At,
  sensor: Sensor,
  upperOhms: number,
  lowerOhms: number,
  inputMaxVolts: number,
): WiringSum {
  return made(
    of('divider', 'Divider', [
      `up to ${showQuantity(inputMaxVolts, 'V')} through ${showQuantity(upperOhms, 'Ω')} and ${showQuantity(lowerOhms, 'Ω')}`,
      `pin ${showQuantity(board.inputMaxVolts, 'V')} at most`,
    ]),
    () =>
      divider({
        ...DIVIDER_DEFAULTS,
        inputMaxVolts,
        upperOhms,
        lowerOhms,
        pinMaxVolts: board.inputMaxVolts,
        referenceVolts: board.logicVolts,
        bits: board.analogBits,
      }),
    () => fittingDivider(sensor, inputMaxVolts, board.logicVolts),
  )
}

/**
 * A divider whose lower resistor is kept at 10 kΩ and whose upper one brings the highest voltage to
 * 85 % of full scale.
 */
function fittingDivider(sensor: Sensor, maxVolts: number, fullScale: number): WiringSum['fixes'] {
  const lowerOhms = 10_000
  const ratio = maxVolts / (0.85 * fullScale) - 1
  if (ratio <= 0) return []
  const upperOhms = preferredAbove(lowerOhms * ratio)
  return [
    {
      words: `Take ${showQuantity(upperOhms, 'Ω')} over ${showQuantity(lowerOhms, 'Ω')}`,
      edit: {
        type: 'setSensor',
        sensorId: sensor.id,
        patch: isBattery(sensor) ? { upperOhms, lowerOhms } : { divider: { upperOhms, lowerOhms } },
      },
    },
  ]
}
