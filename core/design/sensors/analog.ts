/** A voltage, perhaps divided, perhaps calibrated. */
import { ANALOG, onePin, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const analog: SensorFacet<SensorOf<'analog'>> = {
  words: 'analog value',
  lines: sensor => onePin(sensor, ANALOG),
  reading: {
    unit: ({ unit, calibration }) => (unit === '' && !calibration ? 'V' : unit),
    scale: ({ calibration, maxVolts }) =>
      calibration
        ? {
            low: Math.min(calibration.value1, calibration.value2),
            high: Math.max(calibration.value1, calibration.value2),
          }
        : { low: 0, high: maxVolts },
    forms: ['readout', 'gauge', 'history', 'column'],
  },
  fields: [['maxVolts', 'Gives up to', 'V']],
  fresh: (id, name, controllerId) => ({
    kind: 'analog',
    id,
    name,
    controllerId,
    pin: 0,
    maxVolts: 3.3,
    divider: null,
    unit: '',
    calibration: null,
  }),
}
