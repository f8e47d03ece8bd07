/** A thermistor below a series resistor. */
import { ANALOG, CELSIUS, onePin, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const thermistor: SensorFacet<SensorOf<'thermistor'>> = {
  words: 'thermistor',
  lines: sensor => onePin(sensor, ANALOG),
  reading: CELSIUS,
  fields: [
    ['ohmsAt25', 'At 25 °C', 'Ω'],
    ['beta', 'B value', ''],
    ['seriesOhms', 'Series resistor', 'Ω'],
    ['celsius', 'Matters most at', '°C'],
  ],
  fresh: (id, name, controllerId) => ({
    kind: 'thermistor',
    id,
    name,
    controllerId,
    pin: 0,
    ohmsAt25: 10_000,
    beta: 3950,
    seriesOhms: 10_000,
    celsius: 25,
  }),
}
