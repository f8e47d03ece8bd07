/** What can be typed of each kind of sensor. */
import type { Component } from 'vue'
import type { SensorKind } from '../../../core/design/schema'
import AnalogSensor from './AnalogSensor.vue'
import ContactSensor from './ContactSensor.vue'
import FloatsSensor from './FloatsSensor.vue'
import InfraredSensor from './InfraredSensor.vue'
import KnobSensor from './KnobSensor.vue'
import PlainSensor from './PlainSensor.vue'
import StickSensor from './StickSensor.vue'

/**
 * A list of facts that begins with its slot, and what stands under it; each is given `sensor` and
 * the part of its board as `design`, and tells what of the sensor changes.
 */
export const SENSOR_FIELDS: Record<SensorKind, Component> = {
  contact: ContactSensor,
  analog: AnalogSensor,
  thermistor: PlainSensor,
  thermometer: PlainSensor,
  battery: PlainSensor,
  floats: FloatsSensor,
  'two-axis': StickSensor,
  infrared: InfraredSensor,
  knob: KnobSensor,
}
