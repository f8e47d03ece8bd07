/** What can be asked of a sensor without knowing its kind. */
import type { Target } from '../targets'
import type { Sensor, SensorOf } from './schema'

/** Keys of remotes were taught to it. */
export function isReceiver(sensor: Sensor | undefined): sensor is SensorOf<'infrared'> {
  return sensor !== undefined && 'keys' in sensor
}

/** It turns a load by detents. */
export function isKnob(sensor: Sensor): sensor is SensorOf<'knob'> {
  return 'detentsPerTurn' in sensor
}

/** A ladder of floats. */
export function isLadder(sensor: Sensor | undefined): sensor is SensorOf<'floats'> {
  return sensor !== undefined && 'floats' in sensor
}

/** It asks for something, pushed to a side. */
export function asksByWay(sensor: Sensor | undefined): sensor is SensorOf<'two-axis'> {
  return sensor !== undefined && 'ways' in sensor && sensor.ways.length > 0
}

/** It gives two numbers at a time. */
export function isStick(sensor: Sensor): sensor is SensorOf<'two-axis'> {
  return 'degrees' in sensor
}

/** One contact to ground that opens and closes. */
export function isContact(sensor: Sensor | undefined): sensor is SensorOf<'contact'> {
  return sensor !== undefined && 'debounceMs' in sensor && 'pullOhms' in sensor
}

/** It speaks by itself on one line that is pulled up. */
export function isThermometer(sensor: Sensor): sensor is SensorOf<'thermometer'> {
  return 'pullOhms' in sensor && !('debounceMs' in sensor)
}

/** It may be calibrated. */
export function isAnalog(sensor: Sensor): sensor is SensorOf<'analog'> {
  return 'calibration' in sensor
}

/** It measures what feeds the board. */
export function isBattery(sensor: Sensor): sensor is SensorOf<'battery'> {
  return 'emptyVolts' in sensor
}

/** What it asks for by keys or sides; knobs turn their load. */
export function targetsOn(sensor: Sensor): readonly Target[] {
  if (isReceiver(sensor)) return sensor.keys
  return asksByWay(sensor) ? sensor.ways : []
}
