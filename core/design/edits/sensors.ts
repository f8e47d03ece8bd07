/** Sensors, knobs and receivers. */
import { defineEdit, type PatchOf } from './define'
import {
  controllerOf,
  dropReading,
  EditRefused,
  listed,
  nextPin,
  patch,
  sensorOf,
  setAt,
} from './parts'
import { newSensor, sensorLines, SENSORS } from '../sensors/rows'
import type { Sensor, SensorKind } from '../schema'
import { freshId } from '../ids'
import { loadsInReach } from '../wired'
import { partOf } from '../part'
import { isKnob } from '../sensors/traits'
import { isOpposed } from '../outputs/traits'

export const sensorsEdits = {
  addSensor: defineEdit<{ kind: SensorKind; name: string; loadId?: string; controllerId?: string }>(
    {
      apply: (d, a) => {
        const { id: controllerId } = controllerOf(d, a.controllerId)
        const sensor = newSensor(
          a.kind,
          freshId(a.name, 'sensor', d.sensors),
          a.name,
          controllerId,
          a.loadId ?? loadsInReach(partOf(d, controllerId))[0]?.id ?? '',
        )
        if (isKnob(sensor) && !sensor.loadId)
          throw new EditRefused('a knob turns a load; name the first load on the sheet')
        d.sensors.push(sensor)
        const at = d.sensors.length - 1
        // A pin that no board has stands for none while the lines get theirs, one after another.
        for (const line of sensorLines(sensor)) setAt(d, `/sensors/${at}/${line.key}`, 99)
        for (const line of sensorLines(sensor))
          setAt(d, `/sensors/${at}/${line.key}`, nextPin(d, controllerId, line.use))
      },
      words: (_, a) => `${a.name} added: ${SENSORS[a.kind].words}`,
    },
  ),
  setSensor: defineEdit<{ sensorId: string; patch: PatchOf<Sensor> }>({
    apply: (d, a) => {
      patch(sensorOf(d, a.sensorId), a.patch, ['kind', 'id'])
    },
    words: (d, a) => `${sensorOf(d, a.sensorId).name}: ${listed(a.patch)}`,
  }),
  removeSensor: defineEdit<{ sensorId: string }>({
    apply: (d, a) => {
      sensorOf(d, a.sensorId)
      for (const link of d.links) dropReading(d, link, a.sensorId)
      d.sensors = d.sensors.filter(s => s.id !== a.sensorId)
      d.rules = d.rules.filter(r => r.sensorId !== a.sensorId)
      for (const { output } of d.loads) {
        if (!isOpposed(output)) continue
        if (output.forwardEnd === a.sensorId) output.forwardEnd = null
        if (output.reverseEnd === a.sensorId) output.reverseEnd = null
      }
    },
    words: (d, a) => `${sensorOf(d, a.sensorId).name} removed`,
  }),
}
